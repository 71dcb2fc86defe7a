import { expect, test } from "vitest";

import { byDay, dayText } from "./days";

test("entries stand under their day with the hands that made them", () => {
  const entry = (at: string, who: string) => ({ at, who });
  const found = byDay([
    entry("2026-11-26T12:30:00", "crew 2"),
    entry("2026-11-26T12:00:00", ""),
    entry("2026-11-26T11:00:00", "crew 2"),
    entry("2026-11-25T12:00:00", "crew 1"),
  ]);
  expect(found.map((one) => [one.day, one.entries.length])).toEqual([
    ["2026-11-26", 3],
    ["2026-11-25", 1],
  ]);
  expect(found[0]?.hands).toEqual([
    ["crew 2", 2],
    ["nobody named", 1],
  ]);
  expect(dayText("2026-11-26")).toBe("Thursday, November 26, 2026");
});
