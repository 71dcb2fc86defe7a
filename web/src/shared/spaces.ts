import { SPACES } from "./generated/lists";

export type Space = (typeof SPACES)[number];

/** In or out of a list, in the list's own order. */
export const toggled = <T>(all: readonly T[], chosen: readonly T[], one: T): T[] =>
  all.filter((item) => (item === one ? !chosen.includes(item) : chosen.includes(item)));
