import { expect, test } from "vitest";

import { metres } from "./reachRows";

test.each([
  ["320", "m", 320],
  ["1000", "ft", 304.8],
  ["1,000 ft", "m", 304.8],
  ["1.2 km", "ft", 1200],
  ["0,5 km", "m", 500],
])("a length in hand: %s in %s", (text, unit, m) => expect(metres(text, unit as "m" | "ft")).toBeCloseTo(m));

test.each(["", "far", "-5 m", "0 m", "12 parsec"])("'%s' is no length", (text) =>
  expect(metres(text, "m")).toBeNull(),
);
