import { expect, test } from "vitest";

import type { DirectionReview, Element } from "../shared/api";
import { GUTTER_LEFT, GUTTER_RIGHT, layoutChain } from "./layout";
import { powerScale } from "./scale";

const kinds = ["port", "module", "cord", "panel", "run", "panel", "cord", "module", "port"] as const;
const chain = (names: readonly string[]) =>
  names.map((kind, i) => ({ kind, id: `${kind}-${i}`, fixed: false }) as unknown as Element);

test.each([320, 700, 1280, 1920])(
  "pieces stand side by side in %d px, and the run takes what is left",
  (available) => {
    const { places, width } = layoutChain(chain(kinds), available);
    places.slice(1).forEach((place, i) => {
      const before = places[i]!;
      expect(place.x).toBeCloseTo(before.x + before.w, 6);
    });
    const last = places.at(-1)!;
    expect(last.x + last.w + GUTTER_RIGHT).toBeLessThanOrEqual(width + 1);
    if (available >= 1280) {
      expect(last.x + last.w).toBeCloseTo(available - GUTTER_RIGHT, 6);
      expect(places[4]!.w).toBeGreaterThan(104);
    }
  },
);

test("a chain without a run keeps its size, and one without pieces has none", () => {
  expect(layoutChain(chain(["port", "cord", "port"]), 1280).places.map((place) => place.w)).toEqual([58, 76, 58]);
  expect(layoutChain([], 500).places).toEqual([]);
  expect(GUTTER_LEFT).toBeGreaterThan(0);
});

test("a kind that the drawing does not know takes the room of a cord", () => {
  const { places, width } = layoutChain(chain(["port", "unheard of", "port"]), 1280);
  expect(places.map((place) => place.w)).toEqual([58, 76, 58]);
  expect(width).toBe(1280);
});

test("the scale holds the band and the receiver's window, strongest on top", () => {
  const direction = {
    points: [{ in_max_dbm: 4, out_min_dbm: -14 }],
    window: { overload_dbm: -1, sensitivity_dbm: -15.8, damage_dbm: 4 },
  } as unknown as DirectionReview;
  const { y, ticks } = powerScale(direction, 200);
  expect(y(4)).toBeLessThan(y(-15.8));
  for (const dbm of [4, -1, -15.8]) expect(y(dbm)).toBeGreaterThan(0);
  for (const dbm of [4, -1, -15.8]) expect(y(dbm)).toBeLessThan(200);
  expect(ticks).toEqual([...ticks].sort((a, b) => a - b));
  expect(ticks.every((tick) => tick % 5 === 0)).toBe(true);
});
