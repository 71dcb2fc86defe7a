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
  const high = Math.max(low + 1, Math.ceil(Math.log10(to) - 1e-9));
  const part = (end - start) / (high - low);
  return {
    at: (value) => start + Math.min(high - low, Math.max(0, Math.log10(Math.max(value, 1e-12)) - low)) * part,
    ticks: Array.from({ length: high - low + 1 }, (_, i) => 10 ** (low + i)),
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
