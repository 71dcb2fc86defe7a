import type { Option } from "../shared/api";

type Ranked = Pick<Option, "key" | "medium" | "dearer_by">;

const BEST = 5;

/** The answers that stand on the page at once: the best five, the first of each medium, and the cheapest. */
export function shownFirst<T extends Ranked>(options: readonly T[]): T[] {
  const media = new Set<string>();
  return options.filter((option, place) => {
    const first = !media.has(option.medium);
    media.add(option.medium);
    return place < BEST || first || option.dearer_by === 0;
  });
}
