import { expect, test } from "vitest";

import type { Catalog } from "../shared/api";
import { reachRows } from "./reachRows";

test("a row reaches as far as its table and the glass's own loss allow, whichever is less", () => {
  const row = (fiber: string, reach_m: number) => ({ fiber, reach_m, min_length_m: 2 });
  const catalog = {
    applications: [{ name: "10GBASE-LR", rate_mbps: 10000, reaches: [row("OS1", 10000), row("OS2", 10000)] }],
    carries: [{ application: "10GBASE-LR", fiber: "OS1", reach_m: 4100 }],
  } as unknown as Catalog;
  expect(reachRows(catalog).map((one) => [one.fiber, one.reach_m, one.carried_m, one.least_m])).toEqual([
    ["OS1", 10000, 4100, 2],
    ["OS2", 10000, 10000, 2],
  ]);
});
