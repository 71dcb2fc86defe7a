import type { LinkRow, Option } from "../shared/api";

/** The pieces of an answer's first link as the miniature of a chain takes them; nothing was found on them yet. */
export const marksOf = (links: Option["links"]): LinkRow["pieces"] =>
  (links[0]?.elements ?? []).map((piece) => ({
    kind: piece.kind,
    severity: null,
    fiber: "fiber" in piece ? [...(piece.fiber ?? [])] : [],
  }));
