import type { VerdictChange } from "../shared/api";

/** From the best to the worst; what a verdict rests on stands behind it and does not change its place. */
const ORDER = ["pass", "marginal", "unknown", "fail", "damage"];
const rank = (verdict: string) => ORDER.indexOf(verdict.split(" ")[0] ?? "");

/** So many links go from one verdict to another. */
export interface Move {
  before: string;
  after: string;
  count: number;
  way: "better" | "worse" | "as good";
}

/** The changes by what they move from and to, the worst news first. */
export function moves(changes: readonly Pick<VerdictChange, "before" | "after">[]): Move[] {
  const found = new Map<string, Move>();
  for (const { before, after } of changes) {
    const key = `${before} ${after}`;
    const step = rank(after) - rank(before);
    const way = step > 0 ? "worse" : step < 0 ? "better" : "as good";
    const known = found.get(key) ?? { before, after, count: 0, way };
    found.set(key, { ...known, count: known.count + 1 });
  }
  const first = { worse: 0, "as good": 1, better: 2 };
  return [...found.values()].sort((a, b) => first[a.way] - first[b.way] || b.count - a.count);
}

/** What changes in one line: how many get worse, better, or rest on something else. */
export function movesText(changes: readonly Pick<VerdictChange, "before" | "after">[]): string {
  const count = (way: Move["way"]) =>
    moves(changes)
      .filter((move) => move.way === way)
      .reduce((sum, move) => sum + move.count, 0);
  const told = [
    [count("worse"), "▼", "worse"],
    [count("better"), "▲", "better"],
    [count("as good"), "•", "rest on something else"],
  ].filter(([n]) => n);
  return told.length === 0
    ? "No verdict changes."
    : told.map(([n, sign, words]) => `${sign} ${n} ${words}`).join(", ");
}
