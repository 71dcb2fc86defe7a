import type { Window } from "../shared/api";

/** Room for the words of a row, and for half a number at each edge. */
export const LABELS = 152;
const EDGE = 14;

/** One scale of dBm for both ends: from the darkest to the brightest that matters, in whole tens. */
export interface PowerScale {
  width: number;
  low: number;
  high: number;
  x: (dbm: number) => number;
  ticks: readonly number[];
}

const numbers = (values: readonly (number | null | undefined)[]): number[] =>
  values.filter((value): value is number => typeof value === "number" && Number.isFinite(value));

/** A scale that holds all windows and all readings; −30 to 5 where there is nothing. */
export function powerScale(
  windows: readonly Window[],
  readings: readonly (number | null)[],
  width: number,
): PowerScale {
  const all = numbers([
    ...windows.flatMap((one) => [one.low_dbm, one.high_dbm, one.needs_dbm, one.takes_dbm, one.damage_dbm]),
    ...readings,
  ]);
  const low = Math.floor((Math.min(...(all.length ? all : [-30])) - 1) / 5) * 5;
  const high = Math.ceil((Math.max(...(all.length ? all : [5])) + 1) / 5) * 5;
  const room = width - LABELS - 2 * EDGE;
  const x = (dbm: number) => LABELS + EDGE + ((Math.min(high, Math.max(low, dbm)) - low) / (high - low)) * room;
  const step = high - low > 40 ? 10 : 5;
  const ticks = Array.from({ length: Math.floor((high - low) / step) + 1 }, (_, i) => low + i * step);
  return { width, low, high, x, ticks };
}

/** How old values are, in words. */
export function ageText(seconds: number | undefined): string {
  if (seconds === undefined) return "not read";
  if (seconds < 90) return `${Math.round(seconds)} s old`;
  if (seconds < 5400) return `${Math.round(seconds / 60)} min old`;
  return seconds < 172_800 ? `${Math.round(seconds / 3600)} h old` : `${Math.round(seconds / 86_400)} days old`;
}

/** A share in per cent, never a whole 0 or 100 that it is not. */
export function shareText(share: number): string {
  if (share > 0 && share < 0.01) return "<1 %";
  return share < 1 && share > 0.99 ? ">99 %" : `${Math.round(share * 100)} %`;
}
