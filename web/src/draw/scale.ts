/** A scale along a drawing: where a value stands, and the round values that are written on it. */
export interface Scale {
  at: (value: number) => number;
  ticks: readonly number[];
  from: number;
  to: number;
}

/** The next of 1, 2 and 5 times a power of ten. */
function roundStep(rough: number): number {
  const power = 10 ** Math.floor(Math.log10(rough));
  return ([1, 2, 5, 10].find((step) => step * power >= rough * 0.999) ?? 10) * power;
}

/** An even scale from one value to another, drawn between two points; values beyond stand at its ends. */
export function evenScale(from: number, to: number, start: number, end: number, most = 6): Scale {
  const span = to > from ? to - from : 1;
  const step = roundStep(span / Math.max(1, most));
  const first = Math.ceil(from / step - 1e-9);
  const count = Math.floor((from + span) / step + 1e-9) - first + 1;
  return {
    at: (value) => start + (Math.min(from + span, Math.max(from, value)) - from) * ((end - start) / span),
    ticks: Array.from({ length: Math.max(0, count) }, (_, i) => (first + i) * step),
    from,
    to: from + span,
  };
}

/** A scale on which each step of the same length is ten times as much; for values that span several of them. */
export function tenfoldScale(from: number, to: number, start: number, end: number): Scale {
  const low = Math.floor(Math.log10(from));
  const high = Math.max(low + 1, Math.log10(to));
  const part = (end - start) / (high - low);
  return {
    at: (value) => start + Math.min(high - low, Math.max(0, Math.log10(Math.max(value, 1e-12)) - low)) * part,
    ticks: Array.from({ length: Math.floor(high + 1e-9) - low + 1 }, (_, i) => 10 ** (low + i)),
    from: 10 ** low,
    to: 10 ** high,
  };
}

/** A round value that holds all of some values. */
export const roundUp = (value: number): number =>
  value > 0 ? Math.ceil(value / roundStep(value / 5)) * roundStep(value / 5) : 1;

/** Words in at most so many characters. */
export const cutTo = (words: string, most: number): string =>
  words.length > most ? `${words.slice(0, Math.max(2, most - 1))}…` : words;

/** A scale of lengths given in m: its round values are metres or feet, as the person has it. */
export interface LengthScale {
  at: (length_m: number) => number;
  ticks: readonly { m: number; words: string }[];
}

const METRES = { m: 1, ft: 0.3048 } as const;

const tickText = (value: number, unit: "m" | "ft"): string =>
  unit === "m" && value >= 1000 ? `${Number((value / 1000).toFixed(2))} km` : `${Number(value.toFixed(2))} ${unit}`;

/** An even or tenfold scale of lengths with round values in the person's unit. */
export function lengthScale(
  kind: "even" | "tenfold",
  [from_m, to_m]: readonly [number, number],
  [start, end]: readonly [number, number],
  unit: "m" | "ft",
  most = 6,
): LengthScale {
  const one = METRES[unit];
  const scale =
    kind === "even"
      ? evenScale(from_m / one, to_m / one, start, end, most)
      : tenfoldScale(from_m / one, to_m / one, start, end);
  return {
    at: (length_m) => scale.at(length_m / one),
    ticks: scale.ticks.map((value) => ({ m: value * one, words: tickText(value, unit) })),
  };
}

/** Of some points in order, the numbers of those that can be named with so much room between: both ends, then what fits. */
export function apart(points: readonly number[], room: number): number[] {
  const last = points.length - 1;
  const named = [0];
  for (let i = 1; i < last; i++) {
    const at = points[i] ?? 0;
    if (at - (points[named.at(-1) ?? 0] ?? 0) >= room && (points[last] ?? 0) - at >= room) named.push(i);
  }
  return last > 0 ? [...named, last] : last === 0 ? [0] : [];
}
