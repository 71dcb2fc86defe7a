import type { Catalog } from "../shared/api";
import type { LengthUnit } from "../shared/settings";

/** One row of reach: the table's length, the nearer one that the glass's own loss leaves, and the least that is allowed. */
export interface ReachRow {
  key: string;
  application: string;
  rate_mbps: number;
  fiber: string;
  reach_m: number;
  carried_m: number;
  least_m: number;
}

/** All rows of the catalog by speed, then application and grade. */
export function reachRows(catalog: Catalog): ReachRow[] {
  const carried = new Map(catalog.carries.map((line) => [`${line.application} ${line.fiber}`, line.reach_m]));
  return catalog.applications.flatMap((application) =>
    application.reaches.map((row) => {
      const key = `${application.name} ${row.fiber}`;
      return {
        key,
        application: application.name,
        rate_mbps: application.rate_mbps,
        fiber: row.fiber,
        reach_m: row.reach_m,
        carried_m: Math.min(row.reach_m, carried.get(key) ?? Infinity),
        least_m: row.min_length_m,
      };
    }),
  );
}

const IN_METRES: Record<string, number> = { m: 1, km: 1000, ft: 0.3048, "'": 0.3048, mi: 1609.344 };

/** A length that is only held against a drawing, in m; null where it is none. What is stored is read by the server. */
export function metres(text: string, unit: LengthUnit): number | null {
  const [, number, sign] = /^\s*([\d.,]+)\s*(km|m|ft|'|mi)?\s*$/i.exec(text) ?? [];
  if (number === undefined) return null;
  const value = Number(number.replace(/,(?=\d{3}\b)/g, "").replace(",", "."));
  const factor = IN_METRES[(sign ?? unit).toLowerCase()];
  return Number.isFinite(value) && value > 0 && factor !== undefined ? value * factor : null;
}
