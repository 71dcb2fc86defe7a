import type { Element, Kind } from "../shared/api";

/** Where a piece stands in the drawing. The lenses below use the same x. */
export interface Place {
  id: string;
  x: number;
  w: number;
}

export const GUTTER_LEFT = 52;
export const GUTTER_RIGHT = 92;

const WIDTH: Record<Kind, number> = {
  port: 48,
  module: 44,
  cord: 80,
  panel: 34,
  run: 104,
  splice: 30,
  pigtail: 60,
  attenuator: 42,
};

/** Places of all pieces from left to right; runs take what room is left. */
export function layoutChain(elements: readonly Element[], available: number): { places: Place[]; width: number } {
  const natural = elements.reduce((sum, e) => sum + WIDTH[e.kind], 0);
  const runs = elements.filter((e) => e.kind === "run").length;
  const room = available - GUTTER_LEFT - GUTTER_RIGHT - natural;
  const extra = runs > 0 && room > 0 ? room / runs : 0;
  let x = GUTTER_LEFT;
  const places = elements.map((element) => {
    const w = WIDTH[element.kind] + (element.kind === "run" ? extra : 0);
    const place = { id: element.id, x, w };
    x += w;
    return place;
  });
  return { places, width: Math.max(available, x + GUTTER_RIGHT) };
}
