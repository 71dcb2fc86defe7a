import { describe, expect, it } from "vitest";

import { LABELS, ageText, powerScale, shareText } from "./scale";

const none = { end: "left", element: "m", quantity: "rx power" } as never;

describe("the scale of powers", () => {
  it("holds every window and reading and is usable with none", () => {
    const scale = powerScale([{ ...(none as object), low_dbm: -17.2, high_dbm: 3.4 } as never], [-31, null], 300);
    expect([scale.low, scale.high]).toEqual([-35, 5]);
    expect(scale.x(-31)).toBeGreaterThan(LABELS);
    expect(powerScale([none], [], 300).ticks.length).toBeGreaterThan(2);
  });

  it("keeps what lies outside at its edge", () => {
    const scale = powerScale([], [-10], 200);
    expect(scale.x(-300)).toBe(scale.x(scale.low));
    expect(scale.x(300)).toBe(scale.x(scale.high));
  });
});

describe("words for numbers", () => {
  it.each([
    [undefined, "not read"],
    [4, "4 s old"],
    [600, "10 min old"],
    [20_000, "6 h old"],
    [400_000, "5 days old"],
  ])("say the age of %s", (seconds, words) => expect(ageText(seconds)).toBe(words));

  it("never round a doubt away", () => {
    expect([shareText(0), shareText(0.004), shareText(0.5), shareText(0.996), shareText(1)]).toEqual([
      "0 %",
      "<1 %",
      "50 %",
      ">99 %",
      "100 %",
    ]);
  });
});
