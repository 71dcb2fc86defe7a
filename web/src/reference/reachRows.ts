import type { Catalog } from "../shared/api";

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
