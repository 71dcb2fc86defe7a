import type { Plant } from "../shared/api";

export type Way = NonNullable<Plant["ways"]>[number];

/** A way as a strip: from x to x + width in its row, with the place at its end. */
export interface Strip {
  way: Way;
  x: number;
  width: number;
  row: number;
  /** The place at the right end, and whether it was drawn before. */
  end: string;
  meets: boolean;
  /** The row that this strip branches off from, where it does not go on in it. */
  from: number | null;
}

export interface StripPlan {
  strips: Strip[];
  roots: { place: string; row: number }[];
  rows: number;
  width: number;
}

/** Width of a strip: it grows with the logarithm of the length, so that 60 m and 34 km fit one sheet. */
export const stripWidth = (length_m: number) => 46 + 24 * Math.log2(1 + length_m / 20);

/** The ways of a plant in rows: from the place with the most ways outwards, the longest branch going straight on. */
export function stripPlan(plant: Plant): StripPlan {
  const ways = plant.ways ?? [];
  const at = new Map<string, Way[]>();
  for (const way of ways) for (const place of [way.start, way.end]) at.set(place, [...(at.get(place) ?? []), way]);
  const order = [...at.keys()].sort((a, b) => (at.get(b)?.length ?? 0) - (at.get(a)?.length ?? 0));
  const drawn = new Set<string>();
  const reached = new Set<string>();
  const strips: Strip[] = [];
  const roots: StripPlan["roots"] = [];
  let rows = 0;

  const size = (place: string, seen: Set<string>): number =>
    (at.get(place) ?? []).reduce((sum, way) => {
      if (seen.has(way.id)) return sum;
      seen.add(way.id);
      return sum + 1 + size(way.start === place ? way.end : way.start, seen);
    }, 0);

  function grow(place: string, x: number, row: number) {
    const open = (at.get(place) ?? []).filter((way) => !drawn.has(way.id));
    const ranked = open.toSorted((a, b) => size(other(b, place), new Set([...drawn, b.id])) - size(other(a, place), new Set([...drawn, a.id])));
    let first = true;
    for (const way of ranked) {
      if (drawn.has(way.id)) continue;
      drawn.add(way.id);
      const end = other(way, place);
      const own = first ? row : rows++;
      const width = stripWidth(way.length_m);
      const meets = reached.has(end);
      strips.push({ way, x, width, row: own, end, meets, from: first ? null : row });
      first = false;
      if (!meets) {
        reached.add(end);
        grow(end, x + width, own);
      }
    }
  }

  for (const place of order) {
    if (reached.has(place)) continue;
    reached.add(place);
    roots.push({ place, row: rows });
    grow(place, 0, rows++);
  }
  return { strips, roots, rows, width: Math.max(0, ...strips.map((strip) => strip.x + strip.width)) };
}

const other = (way: Way, place: string) => (way.start === place ? way.end : way.start);
