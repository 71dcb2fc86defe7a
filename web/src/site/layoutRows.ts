import type { Layouts } from "../shared/api";

type Hop = NonNullable<Layouts["layouts"][number]["hops"]>[number];

/** A hop with where it is drawn: from and to along the way from the core in m, its row, and the row that it leaves. */
export interface PlacedHop extends Hop {
  from_m: number;
  to_m: number;
  row: number;
  parent_row: number;
  /** Nothing goes on from its end on the same row. */
  last: boolean;
}

/** The hops in rows: what goes on from where a hop ended stays on its row, what branches off takes the next one. */
export function placed(hops: readonly Hop[], core: string): PlacedHop[] {
  const ends = new Map<string, { m: number; row: number }>([[core, { m: 0, row: -1 }]]);
  const taken = new Set<string>();
  let rows = 0;
  const found = hops.map((hop) => {
    const at = ends.get(hop.start) ?? { m: 0, row: -1 };
    const goesOn = at.row >= 0 && !taken.has(hop.start);
    taken.add(hop.start);
    const row = goesOn ? at.row : rows++;
    const to_m = at.m + hop.length_m;
    if (hop.end !== core) ends.set(hop.end, { m: to_m, row });
    return { ...hop, from_m: at.m, to_m, row, parent_row: Math.max(0, at.row), last: true };
  });
  return found.map((hop) => ({
    ...hop,
    last: !found.some((next) => next !== hop && next.start === hop.end && next.row === hop.row && hop.end !== core),
  }));
}

/** How far the longest of some layouts reaches along its strips, in m. */
export const farthest = (layouts: Layouts["layouts"], core: string): number =>
  Math.max(1, ...layouts.flatMap((layout) => placed(layout.hops ?? [], core).map((hop) => hop.to_m)));
