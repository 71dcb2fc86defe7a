import { expect, test } from "vitest";

import { apart, cutTo, evenScale, lengthScale, roundUp, tenfoldScale } from "./scale";

test("an even scale writes round values and keeps what is beyond at its ends", () => {
  const scale = evenScale(0, 620, 10, 310);
  expect(scale.ticks).toEqual([0, 200, 400, 600]);
  expect(scale.at(310)).toBeCloseTo(160);
  expect([scale.at(-5), scale.at(9999)]).toEqual([10, 310]);
  expect(evenScale(-7, 3, 0, 100).ticks).toEqual([-6, -4, -2, 0, 2]);
  expect(evenScale(5, 5, 0, 100).at(5)).toBe(0); // nothing to spread: it still stands somewhere
});

test("a tenfold scale gives each ten the same room", () => {
  const scale = tenfoldScale(26, 80_000, 0, 400);
  expect(scale.ticks).toEqual([10, 100, 1000, 10_000]);
  expect(scale.at(1000) - scale.at(100)).toBeCloseTo(scale.at(100) - scale.at(10));
  expect(scale.at(0)).toBe(0);
});

test("round values hold what they must", () => {
  for (const value of [0.3, 7, 198, 1800, 12345]) expect(roundUp(value)).toBeGreaterThanOrEqual(value);
  expect(roundUp(0)).toBe(1);
  expect(cutTo("North quay crane 1", 8)).toBe("North q…");
});

test("lengths stand at the same share in metres and feet, with round values in each", () => {
  const metres = lengthScale("even", [0, 620], [0, 100], "m", 4);
  const feet = lengthScale("even", [0, 620], [0, 100], "ft", 4);
  expect(metres.at(310)).toBeCloseTo(feet.at(310));
  expect(metres.ticks.map((tick) => tick.words)).toEqual(["0 m", "200 m", "400 m", "600 m"]);
  expect(feet.ticks.map((tick) => tick.words)).toEqual(["0 ft", "1000 ft", "2000 ft"]);
  expect(lengthScale("tenfold", [26, 80_000], [0, 1], "m").ticks.at(-1)?.words).toBe("10 km");
});

test("of points that crowd only those with room are named, both ends always", () => {
  expect(apart([0, 10, 60, 100], 40)).toEqual([0, 2, 3]);
  expect(apart([0, 10], 40)).toEqual([0, 1]);
  expect([apart([5], 40), apart([], 40)]).toEqual([[0], []]);
});
