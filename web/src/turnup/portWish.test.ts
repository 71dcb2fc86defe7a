import { describe, expect, it } from "vitest";

import { EMPTY, asCount, asDbm, asWish } from "./portWish";

describe("what a port shows, typed by hand", () => {
  it.each([
    ["−6.2", -6.2],
    ["-6,2 dBm", -6.2],
    ["0.24 mW", -6.2],
    ["240 µW", -6.2],
    ["", null],
    ["0 mW", Number.NaN],
    ["weak", Number.NaN],
    ["-6.2 dB", Number.NaN],
  ])("reads a power of %s as %s dBm", (text, dbm) => expect(asDbm(text)).toEqual(dbm));

  it.each([
    ["0", 0],
    ["1,500", 1500],
    ["1 500 000", 1_500_000],
    ["1,5", Number.NaN],
    ["1.5", Number.NaN],
    ["-1", Number.NaN],
    ["", null],
  ])("reads a count of %s as %s", (text, count) => expect(asCount(text)).toEqual(count));

  it("says which word is no power, and sends no half of it", () => {
    expect(asWish(EMPTY, [{ tx: "-2", rx: "low", dark: false }])).toContain('"low" is no power');
    expect(asWish({ ...EMPTY, errors: "few" }, [])).toContain("whole numbers");
    const wish = asWish({ ...EMPTY, oper: "down" }, [
      { tx: "", rx: "-9", dark: true },
      { tx: "", rx: "", dark: false },
    ]);
    expect(wish).toMatchObject({
      oper: "down",
      errors: null,
      accepted: null,
      lanes: [{ lane: 1, tx_dbm: null, rx_dbm: null, rx_dark: true }],
    });
  });
});
