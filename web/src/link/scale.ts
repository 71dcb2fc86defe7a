import type { DirectionReview } from "../shared/api";

export interface PowerScale {
  y: (dbm: number) => number;
  ticks: number[];
}

/** A vertical scale in dBm that shows the whole band, the receiver's window and room around them. */
export function powerScale(direction: DirectionReview, height: number): PowerScale {
  const { window, points } = direction;
  const powers = points.flatMap((p) => [p.in_max_dbm, p.out_min_dbm]);
  const top = Math.max(...powers, window.overload_dbm, window.damage_dbm ?? -Infinity) + 2;
  const bottom = Math.min(...powers, window.sensitivity_dbm) - 3;
  const y = (dbm: number) => 8 + ((top - dbm) / (top - bottom)) * (height - 16);
  const step = top - bottom > 30 ? 10 : 5;
  const first = Math.ceil(bottom / step) * step;
  const ticks = Array.from({ length: Math.floor((top - first) / step) + 1 }, (_, i) => first + i * step);
  return { y, ticks };
}
