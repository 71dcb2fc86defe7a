import { expect, test } from "vitest";

import type { FigureLine } from "../shared/api";
import { neighborsOf } from "./neighbors";

const line = (name: string, value: number, figure = "loss") =>
  ({ shelf: "fiber", name, figure, label: figure, value, unit: "dB", own: false }) as unknown as FigureLine;

test("a figure stands among those of the same kind", () => {
  const all = [line("OM1", 3.5), line("OM3", 3.0), line("OS2", 0.4), line("OM3", 9, "reach")];
  const found = neighborsOf(all[1]!, all);
  expect(found?.others.map((one) => one.name)).toEqual(["OM1", "OS2"]);
  expect([found?.low, found?.high, found?.at(3.5), found?.at(0.4)]).toEqual([0.4, 3.5, 1, 0]);
});

test("values that span tens share them evenly, and what has no neighbor has no scale", () => {
  const all = [line("a", 1), line("b", 10), line("c", 100)];
  expect(neighborsOf(all[1]!, all)?.at(10)).toBeCloseTo(0.5);
  expect(neighborsOf(line("a", 1), [line("a", 1)])).toBeNull();
  expect(neighborsOf(line("a", 2), [line("a", 2), line("b", 2)])).toBeNull();
});
