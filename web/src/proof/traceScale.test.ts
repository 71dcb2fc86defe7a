import { describe, expect, it } from "vitest";

import type { TraceView } from "../shared/api";
import { traceScale, zoomed } from "./traceScale";

const view = {
  direction: "right",
  pieces: [
    { element: "launch", from_m: 0, to_m: 100 },
    { element: "run-1", from_m: 100, to_m: 600 },
    { element: "receive", from_m: 600, to_m: 700 },
  ],
  expected: [
    [0, 0],
    [700, -3],
  ],
} as unknown as TraceView;
const places = [
  { id: "panel-1", x: 150, w: 50 },
  { id: "run-1", x: 200, w: 400 },
  { id: "panel-2", x: 600, w: 50 },
];

describe("a trace lies under its pieces", () => {
  it("puts each metre under the piece that it belongs to", () => {
    const { x } = traceScale(view, places, 900, 200, null);
    expect(x(100)).toBe(200);
    expect(x(350)).toBe(400);
    expect(x(600)).toBe(600);
    expect(x(50)).toBeLessThan(200);
    expect(x(700)).toBeGreaterThan(600);
  });
  it("is mirrored when the instrument sits at the right", () => {
    const { x } = traceScale({ ...view, direction: "left" }, places, 900, 200, null);
    expect(x(100)).toBe(600);
    expect(x(600)).toBe(200);
    expect(x(50)).toBeGreaterThan(600);
  });
});

describe("zoom", () => {
  it("narrows round a place, stays inside and widens to all again", () => {
    const near = zoomed(view, null, 0.5, 100);
    expect(near).toEqual([0, 350]);
    expect(zoomed(view, near, 4)).toBeNull();
  });
});
