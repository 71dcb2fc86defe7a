import { expect, test } from "vitest";

import { type Application, datasheetOf, draftFrom, missing } from "./datasheet";

const like = {
  name: "10GBASE-ER",
  rate_mbps: 10_000,
  family: "single-mode",
  fibers: 2,
  wavelengths_nm: ["1550"],
  forms: ["SFP+", "XFP"],
  connector: "LC",
  polish: "UPC",
  reaches: [{ fiber: "OS2", reach_m: 40_000 }],
} as unknown as Application;

test("a draft starts from its class and says what it still needs", () => {
  const draft = draftFrom(like);
  expect(missing(draft)).toEqual(["a name", "the datasheet's title and date"]);
  expect(missing({ ...draft, name: "far", source: "sheet, 2026" })).toEqual([]);
});

test("what is left out is null, numbers go as they were typed, the reach holds for every grade", () => {
  const draft = {
    ...draftFrom(like),
    name: " far ",
    source: "sheet",
    sensitivity_dbm: "−24,5",
    reach: "80 km",
    works_with: "10GBASE-ER; 10G-80km",
  };
  expect(datasheetOf(draft, like)).toMatchObject({
    name: "far",
    sensitivity_dbm: "−24,5",
    overload_dbm: null,
    wavelengths_nm: ["1550"],
    forms: ["SFP+"],
    works_with: ["10GBASE-ER", "10G-80km"],
    reaches: [{ grade: "OS2", reach_m: "80 km" }],
  });
  expect(datasheetOf(draftFrom(like), like).reaches).toEqual([]);
});
