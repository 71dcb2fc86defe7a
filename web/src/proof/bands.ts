import type { ProofRow } from "../shared/api";

/** One scale in dB for all readings of a link, so that they can be compared by eye. */
export interface LossScale {
  x: (db: number) => number;
  ticks: number[];
  width: number;
}

const STEPS = [0.1, 0.2, 0.5, 1, 2, 5, 10];
const MOST_TICKS = 8;

export function lossScale(rows: readonly ProofRow[], width: number): LossScale {
  const seen = rows.flatMap((row) => [
    row.should.limit_db,
    row.should.application_db ?? 0,
    Math.min(row.reading?.value_db ?? 0, row.should.limit_db * 2 + 1),
  ]);
  const top = Math.max(1, ...seen) * 1.1;
  const bottom = Math.min(0, ...rows.map((row) => row.should.least_db));
  const step = STEPS.find((one) => (top - bottom) / one <= MOST_TICKS) ?? 20;
  const first = Math.ceil(bottom / step) * step;
  const ticks = Array.from({ length: Math.floor((top - first) / step) + 1 }, (_, i) =>
    Number((first + i * step).toFixed(3)),
  );
  return { x: (db) => 6 + ((Math.min(db, top) - bottom) / (top - bottom)) * (width - 12), ticks, width };
}

/** The row as one says it: the strand, where it comes out, the wavelength, the way. */
export const rowName = (row: ProofRow): string =>
  `strand ${row.strand}${row.far && row.far !== row.strand ? ` to ${row.far}` : ""}, ${row.wavelength_nm} nm, ` +
  (row.direction === "right" ? "left to right" : "right to left");
