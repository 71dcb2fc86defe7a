import type { TraceView } from "../shared/api";
import type { Place } from "../link/layout";

/** What of a trace is seen, in m from the instrument; null is all of it, under the pieces. */
export type Window = readonly [from_m: number, to_m: number] | null;

export interface TraceScale {
  x: (at_m: number) => number;
  y: (db: number) => number;
  from_m: number;
  to_m: number;
}

const EDGE = 46;

/** Where metres from the instrument lie under the chain: each piece under itself, the cords beside the stretch. */
export function traceScale(
  view: TraceView,
  places: readonly Place[],
  width: number,
  height: number,
  window: Window,
): TraceScale {
  const all = view.measured?.length ? [...view.expected, ...view.measured] : view.expected;
  const end = view.pieces.at(-1)?.to_m ?? 1;
  const [from_m, to_m] = window ?? [0, end];
  const seen = all.filter(([m]) => m >= from_m && m <= to_m).map(([, db]) => db);
  const top = Math.max(...seen, -1000) + 1;
  const bottom = Math.max(Math.min(...seen, 1000) - 1, top - 45);
  const y = (db: number) => 6 + ((top - Math.max(db, bottom)) / Math.max(1, top - bottom)) * (height - 12);
  if (window) {
    const x = (m: number) => EDGE + ((m - from_m) / (to_m - from_m)) * (width - 2 * EDGE);
    return { x, y, from_m, to_m };
  }
  return { x: underPieces(view, places, width), y, from_m: 0, to_m: end };
}

function underPieces(view: TraceView, places: readonly Place[], width: number): (at_m: number) => number {
  const at = new Map(places.map((place) => [place.id, place]));
  const left = view.direction === "left";
  const inner = view.pieces.filter((piece) => at.has(piece.element));
  const xs = inner.flatMap((piece) => {
    const place = at.get(piece.element) as Place;
    return [place.x, place.x + place.w];
  });
  const low = Math.min(...xs, width);
  const high = Math.max(...xs, 0);
  const spans = view.pieces.map((piece) => {
    const place = at.get(piece.element);
    if (place) return { ...piece, a: left ? place.x + place.w : place.x, b: left ? place.x : place.x + place.w };
    const first = piece.element === "launch";
    const nearLeft = first !== left;
    const outer = nearLeft ? EDGE : width - EDGE;
    const edge = nearLeft ? low : high;
    return { ...piece, a: first ? outer : edge, b: first ? edge : outer };
  });
  return (m) => {
    const span = spans.find((one) => m <= one.to_m) ?? spans.at(-1);
    if (!span) return 0;
    const share = span.to_m > span.from_m ? (m - span.from_m) / (span.to_m - span.from_m) : 0;
    return span.a + Math.min(1.2, share) * (span.b - span.a);
  };
}

/** A narrower or wider window round its middle; null when all is seen again. */
export function zoomed(view: TraceView, window: Window, factor: number, middle?: number): Window {
  const end = view.pieces.at(-1)?.to_m ?? 1;
  const [from, to] = window ?? [0, end];
  const half = ((to - from) * factor) / 2;
  const at = middle ?? (from + to) / 2;
  if (half * 2 >= end) return null;
  const start = Math.max(0, Math.min(at - half, end - 2 * half));
  return [start, start + 2 * Math.max(half, 1)];
}
