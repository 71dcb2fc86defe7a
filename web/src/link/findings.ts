import type { Finding } from "../shared/api";

/** The worst finding marked on a piece; findings come worst first. */
export const worstAt = (findings: readonly Finding[], id: string): Finding | undefined =>
  findings.find((finding) => finding.marked.includes(id));
