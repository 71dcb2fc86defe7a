import { expect, it } from "vitest";

import { EMPTY, asWish } from "./portWish";

it("sends what a port shows as it was typed, and no lane of which nothing was said", () => {
  const lanes = [
    { tx: "0,24 mW", rx: "-9", dark: true },
    { tx: " ", rx: "", dark: false },
    { tx: "", rx: "−6,2", dark: false },
  ];
  expect(asWish({ ...EMPTY, oper: "down", errors: "1,500", accepted: "no" }, lanes)).toMatchObject({
    oper: "down",
    errors: "1,500",
    seconds: null,
    accepted: false,
    lanes: [
      { lane: 1, tx_dbm: "0,24 mW", rx_dbm: null, rx_dark: true },
      { lane: 3, tx_dbm: null, rx_dbm: "−6,2", rx_dark: false },
    ],
  });
});
