import { expect, test } from "vitest";

import { farthest, placed } from "./layoutRows";

const hop = (start: string, end: string, length_m: number) => ({ start, end, length_m, strands: 4, ways: [] });

test("a star takes a row for each place, a chain stays on one, a ring comes home", () => {
  const star = placed([hop("core", "a", 100), hop("core", "b", 200)], "core");
  expect(star.map((one) => [one.row, one.from_m, one.to_m])).toEqual([
    [0, 0, 100],
    [1, 0, 200],
  ]);
  const ring = placed([hop("core", "a", 100), hop("a", "b", 50), hop("b", "core", 120)], "core");
  expect(ring.map((one) => [one.row, one.to_m, one.last])).toEqual([
    [0, 100, false],
    [0, 150, false],
    [0, 270, true],
  ]);
});

test("a tree goes on with its first branch and gives the others rows of their own", () => {
  const tree = placed([hop("core", "hub", 100), hop("hub", "a", 10), hop("hub", "b", 20)], "core");
  expect(tree.map((one) => [one.row, one.parent_row, one.from_m])).toEqual([
    [0, 0, 0],
    [0, 0, 100],
    [1, 0, 100],
  ]);
  const layout = { hops: tree } as unknown as Parameters<typeof farthest>[0][number];
  expect(farthest([layout], "core")).toBe(120);
});
