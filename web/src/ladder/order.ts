import type { LinkRow, Stage, Verdict } from "../shared/api";
import { grouped } from "../shared/grouped";

export type SortBy = "order" | "name" | "verdict" | "margin" | "length";
export type GroupBy = "none" | "place" | "verdict" | "stage";

export const STAGES: Stage[] = ["survey", "layout", "match", "budget", "order", "test", "turn up"];

const WORST_FIRST: Verdict[] = ["damage", "fail", "unknown", "marginal", "pass"];

/** Whether a row answers to what was typed: each typed word begins a word of its name, places, verdict or optics. */
export function matches(row: LinkRow, text: string): boolean {
  const typed = text.trim() ? wordsOf(text).filter(Boolean) : [];
  if (typed.length === 0) return true;
  let known = KNOWN.get(row);
  if (!known) {
    known = wordsOf([row.name, row.from_place, row.to_place, row.verdict_text, ...row.applications].join(" "));
    KNOWN.set(row, known);
  }
  return typed.every((start) => known.some((word) => word.startsWith(start)));
}

/** The words of a row, for as long as the row is there: thousands are looked through at each letter. */
const KNOWN = new WeakMap<LinkRow, string[]>();

const wordsOf = (text: string) => text.toLowerCase().split(/[\s,]+/);

const COMPARE: Record<SortBy, (a: LinkRow, b: LinkRow) => number> = {
  order: () => 0,
  name: (a, b) => a.name.localeCompare(b.name),
  verdict: (a, b) => WORST_FIRST.indexOf(a.verdict) - WORST_FIRST.indexOf(b.verdict),
  margin: (a, b) => (a.margin_db ?? -Infinity) - (b.margin_db ?? -Infinity),
  length: (a, b) => (a.length_m ?? Infinity) - (b.length_m ?? Infinity),
};

const GROUP: Record<GroupBy, (row: LinkRow) => string> = {
  none: () => "",
  place: (row) => row.to_place || row.from_place || "no place",
  verdict: (row) => row.verdict_text,
  stage: (row) => `next: ${row.stage}`,
};

/** A line of the ladder: the head of a group, or a link. */
export type Line = { kind: "head"; text: string; count: number } | { kind: "row"; row: LinkRow };

/** The rows filtered, sorted and grouped, as lines. Sorting is stable, so equal rows keep the project's order. */
export function arrange(rows: readonly LinkRow[], filter: string, sort: SortBy, group: GroupBy): Line[] {
  const shown = rows.filter((row) => matches(row, filter)).sort(COMPARE[sort]);
  if (group === "none") return shown.map((row) => ({ kind: "row", row }));
  const groups = grouped(shown, GROUP[group]);
  const heads = [...groups];
  if (group === "verdict") heads.sort(([, a], [, b]) => COMPARE.verdict(a[0] as LinkRow, b[0] as LinkRow));
  if (group === "stage")
    heads.sort(([, a], [, b]) => STAGES.indexOf((a[0] as LinkRow).stage) - STAGES.indexOf((b[0] as LinkRow).stage));
  return heads.flatMap(([text, members]) => [
    { kind: "head" as const, text, count: members.length },
    ...members.map((row) => ({ kind: "row" as const, row })),
  ]);
}
