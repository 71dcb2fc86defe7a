import { describe, expect, it } from "vitest";

import { shownFirst } from "./shown";

const option = (key: string, medium: "multimode" | "single-mode" | "twisted pair", dearer_by = 1) => ({
  key,
  medium,
  dearer_by,
});

describe("the answers that are shown at once", () => {
  it("never hide a medium or the cheapest behind look-alikes", () => {
    const many = Array.from({ length: 8 }, (_, i) => option(`single ${i}`, "single-mode"));
    const all = [
      ...many,
      option("copper", "twisted pair"),
      option("glass", "multimode"),
      option("low", "multimode", 0),
    ];
    expect(shownFirst(all).map((one) => one.key)).toEqual([
      "single 0",
      "single 1",
      "single 2",
      "single 3",
      "single 4",
      "copper",
      "glass",
      "low",
    ]);
  });

  it("are all there when there are few", () => {
    const few = [option("one", "multimode", 0), option("two", "multimode")];
    expect(shownFirst(few)).toEqual(few);
  });
});
