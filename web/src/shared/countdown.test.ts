import { expect, test } from "vitest";

import { secondsLeft } from "./countdown";

test.each([
  [10_000, 0, 10],
  [10_000, 9_001, 1],
  [10_000, 9_999, 1],
  [10_000, 10_000, 0],
  [10_000, 60_000, 0],
])("of a wait that ends at %i ms there are left at %i ms: %i s", (endMs, nowMs, left) => {
  expect(secondsLeft(endMs, nowMs)).toBe(left);
});
