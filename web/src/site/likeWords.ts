import type { Evidence } from "../shared/api";

/** What is ordered in the place of a cord that was looked at. */
export interface LikeWish {
  length: string;
  near: string;
  far: string;
  count: string;
  /** Who reads the print before it is ordered; needed while more than one grade is likely. */
  reader: string;
}

/** The line of the order, or what is still missing for one. */
export type LikeLine = { name: string; count: number; why: string } | { missing: string };

const LONGEST = 120;

/** A cord like the one that was looked at: never of "one grade or another" without who reads the print first. */
export function likeLine(wish: LikeWish, grades: readonly string[], seen: Evidence): LikeLine {
  const count = Number(wish.count);
  if (wish.length.trim() === "") return { missing: "how long it must be" };
  if (!/\d/.test(wish.length)) return { missing: `a length: "${wish.length}" has no number` };
  if (!wish.near || !wish.far) return { missing: "the plug at each end" };
  if (!Number.isInteger(count) || count < 1) return { missing: "how many, as a whole number" };
  if (grades.length === 0) return { missing: "what glass it is: no grade is left" };
  if (grades.length > 1 && wish.reader.trim() === "")
    return { missing: "who reads the print before it is ordered" };
  const glass =
    grades.length === 1
      ? grades[0]
      : grades.length > 3
        ? `glass to be read by ${wish.reader.trim()}`
        : `${grades.join(" or ")}, to be read by ${wish.reader.trim()}`;
  const build = seen.fibers === 1 ? "simplex" : "duplex";
  const name = `${build} cord like the damaged one: ${glass}, ${wish.near} to ${wish.far}, ${wish.length.trim()}`;
  const why =
    grades.length > 1 ? `damaged cord; not before ${wish.reader.trim()} has read the print` : "damaged cord";
  return { name: name.slice(0, LONGEST), count, why: why.slice(0, LONGEST) };
}
