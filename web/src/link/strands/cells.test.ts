import { expect, test } from "vitest";

import type { StrandTable } from "../../shared/api";
import { cellText, faceX, moved, positionText } from "./cells";

const face = (element: string, side: "left" | "right", colors: string[] = []) => ({
  element,
  side,
  name: side,
  kind: "plug",
  shape: colors.length ? "MPO" : "LC",
  rows: 1,
  columns: colors.length || 2,
  plugs: 1,
  filled: [1, 2],
  pins: null,
  polish: "PC",
  colors,
});
const table: StrandTable = {
  faces: [face("module-1", "right", ["blue", "orange"]), face("cord-1", "left")],
  lanes: [
    {
      sender: "module-1",
      receiver: "module-2",
      goes: "right",
      number: 1,
      lights: false,
      heard_as: null,
      lost_at: "cord-1",
      positions: [2, null],
    },
  ],
  why_not: "",
};

test("a cell stands at the edge of its piece where the face looks", () => {
  const places = [
    { id: "module-1", x: 40, w: 50 },
    { id: "cord-1", x: 90, w: 80 },
  ];
  expect(table.faces.map((one) => faceX(one, places))).toEqual([80, 100]);
  expect(faceX(face("gone", "left"), places)).toBeNull();
});

test("a position is a number with its color, of a pair A or B, and a lost lane says so", () => {
  expect(table.faces.map((one) => positionText(one, 2))).toEqual(["2", "B"]);
  const names = new Map([["cord-1", "cord"]]);
  expect(cellText(table, 0, 0, names)).toContain("position 2, orange");
  expect(cellText(table, 0, 1, names)).toContain("cord, left face: the light does not come here");
});

test("arrows walk along a lane and end where it ends", () => {
  expect(moved({ row: 0, column: 0 }, "ArrowRight", table)).toEqual({ row: 0, column: 1 });
  expect(moved({ row: 0, column: 1 }, "ArrowRight", table)).toBeNull();
  expect(moved({ row: 0, column: 1 }, "Home", table)).toEqual({ row: 0, column: 0 });
  expect(moved({ row: 0, column: 1 }, "Enter", table)).toBeNull();
});
