import type { NewLink } from "./api";

export type Space = NewLink["spaces"][number];

export const SPACES: readonly Space[] = [
  "indoors",
  "plenum",
  "riser",
  "duct",
  "buried",
  "aerial",
  "wet",
  "sunlight",
  "beside power",
  "between buildings",
];

/** Ratings that are printed on a jacket. */
export const JACKETS = ["unknown", "general", "riser", "plenum", "low smoke, no halogen", "outdoor"];

/** In or out of a list, in the list's own order. */
export const toggled = <T>(all: readonly T[], chosen: readonly T[], one: T): T[] =>
  all.filter((item) => (item === one ? !chosen.includes(item) : chosen.includes(item)));
