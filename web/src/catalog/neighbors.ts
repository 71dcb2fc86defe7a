import type { FigureLine } from "../shared/api";

/** A figure among those of the same kind in the other records of its shelf. */
export interface Neighbors {
  low: number;
  high: number;
  others: readonly { name: string; value: number }[];
  /** Where a value stands between the lowest and the highest, as a share. */
  at: (value: number) => number;
}

/** Beyond so many times from end to end each ten has the same room. */
const WIDE = 40;

/** The neighbors of a figure; null where it has none, or all are equal. */
export function neighborsOf(line: FigureLine, all: readonly FigureLine[]): Neighbors | null {
  const alike = all.filter(
    (one) => one.shelf === line.shelf && one.figure === line.figure && one.unit === line.unit,
  );
  const others = alike.filter((one) => one.name !== line.name).map(({ name, value }) => ({ name, value }));
  const values = [line.value, ...others.map((one) => one.value)];
  const low = Math.min(...values);
  const high = Math.max(...values);
  if (others.length === 0 || low === high) return null;
  const wide = low > 0 && high / low > WIDE;
  const shaped = (value: number) => (wide ? Math.log10(value) : value);
  return { low, high, others, at: (value) => (shaped(value) - shaped(low)) / (shaped(high) - shaped(low)) };
}
