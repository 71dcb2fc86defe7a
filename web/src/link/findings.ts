import type { Finding } from "../shared/api";

/** The pieces on which a finding is marked: the joint in the middle of three, else all that it names. */
export const markedOn = (finding: Finding): readonly string[] =>
  finding.at.length === 3 ? [finding.at[1] as string] : finding.at;

/** The worst finding marked on a piece; findings come worst first. */
export const worstAt = (findings: readonly Finding[], id: string): Finding | undefined =>
  findings.find((finding) => markedOn(finding).includes(id));
