import { expect, test } from "vitest";

import { tensionLine } from "./pullLines";

const stretches = [
  { from_m: 0, to_m: 100, rise_m: 0, bend_deg: 90, radius_m: 0.5 },
  { from_m: 100, to_m: 250, rise_m: 0, bend_deg: 0, radius_m: null },
];
const step = (section: number, after_straight_n: number, after_bend_n: number) => ({
  section,
  after_straight_n,
  after_bend_n,
  sidewall_n_per_m: 0,
});

test("tension steps up at the bend, whichever end the cable comes from", () => {
  const forwards = {
    direction: "forwards" as const,
    steps: [step(0, 10, 20), step(1, 35, 35)],
    tension_n: 35,
    sidewall_n_per_m: 0,
  };
  expect(tensionLine(stretches, forwards)).toEqual([
    [0, 0],
    [100, 10],
    [100, 20],
    [250, 35],
    [250, 35],
  ]);
  const back = {
    direction: "backwards" as const,
    steps: [step(1, 15, 0), step(0, 40, 30)],
    tension_n: 40,
    sidewall_n_per_m: 0,
  };
  expect(tensionLine(stretches, back)).toEqual([
    [250, 0],
    [250, 0],
    [100, 15],
    [100, 30],
    [0, 40],
  ]);
});
