import type { Element, Kind } from "../shared/api";

/** Where a piece stands in the drawing. The lenses below use the same x. */
export interface Place {
  id: string;
  x: number;
  w: number;
}

export const GUTTER_LEFT = 40;
export const GUTTER_RIGHT = 84;

const WIDTH: Record<Kind, number> = {
  port: 58,
  module: 52,
  cord: 76,
  panel: 46,
  run: 104,
  splice: 30,
  pigtail: 60,
  attenuator: 42,
  twisted: 84,
  outlet: 38,
  jack: 52,
  assembly: 220,
  "array-cord": 84,
  breakout: 96,
  cassette: 64,
  conversion: 64,
  trunk: 112,
};

/** A kind without a width of its own is as wide as a cord. */
const widthOf = (kind: string): number => (WIDTH as Record<string, number>)[kind] ?? WIDTH.cord;

/** How far pieces may be drawn narrower before the chain is scrolled instead. */
const TIGHTEST = 0.68;

/** Places of all pieces from left to right; runs take what room is left, and all shrink a little where it is short. */
export function layoutChain(elements: readonly Element[], available: number): { places: Place[]; width: number } {
  const natural = elements.reduce((sum, e) => sum + widthOf(e.kind), 0);
  const long = (e: Element) => e.kind === "run" || e.kind === "trunk" || (e.kind === "twisted" && e.fixed);
  const runs = elements.filter(long).length;
  const room = available - GUTTER_LEFT - GUTTER_RIGHT;
  const scale = Math.min(1, Math.max(TIGHTEST, room / Math.max(natural, 1)));
  const extra = runs > 0 && room > natural ? (room - natural) / runs : 0;
  let x = GUTTER_LEFT;
  const places = elements.map((element) => {
    const w = widthOf(element.kind) * scale + (long(element) ? extra : 0);
    const place = { id: element.id, x, w };
    x += w;
    return place;
  });
  return { places, width: Math.max(available, Math.ceil(x) + GUTTER_RIGHT) };
}
