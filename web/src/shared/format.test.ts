import { expect, test } from "vitest";

import { lengthInput, lengthText, marginText, rateText, sourceText, withUnit } from "./format";

test.each([
  [0, "0 m", "0.0 ft"],
  [0.5, "0.5 m", "1.6 ft"],
  [152.4, "152 m", "500 ft"],
  [2900, "2.90 km", "9514 ft"],
])("a length of %d m reads the same as in the core", (length, metres, feet) => {
  expect(lengthText(length, "m")).toBe(metres);
  expect(lengthText(length, "ft")).toBe(feet);
  expect(lengthText(null, "m")).toBe("length?");
});

test.each([
  [3.25, "+3.2 dB", "+3.25 dB"],
  [-0.081, "−0.1 dB", "−0.09 dB"],
  [0, "+0.0 dB", "+0.00 dB"],
  [0.99999999999, "+1.0 dB", "+1.00 dB"],
])("a margin of %d dB is never shown better than it is", (value, one, two) => {
  expect(marginText(value)).toBe(one);
  expect(marginText(value, 2)).toBe(two);
});

test("a length for editing keeps what was meant", () => {
  expect(lengthInput(381, "ft")).toBe("1250 ft");
  expect(lengthInput(undefined, "m")).toBe("");
  expect(withUnit("320", "ft")).toBe("320 ft");
  expect(withUnit("2.9 km", "ft")).toBe("2.9 km");
  expect(withUnit("12'", "m")).toBe("12'");
});

test("rates and sources in one line", () => {
  expect([100, 2500, 10_000].map(rateText)).toEqual(["100 Mb/s", "2.5 Gb/s", "10 Gb/s"]);
  const source = {
    body: "IEEE",
    document: "802.3-2022",
    clause: "Table 52-6",
    note: "",
    estimate: false,
    derived: false,
  };
  expect(sourceText(source)).toBe("IEEE 802.3-2022, Table 52-6");
  expect(sourceText({ ...source, body: "TIA", document: "TIA-598-D", note: "order" })).toBe(
    "TIA-598-D, Table 52-6 (order)",
  );
  expect(sourceText({ ...source, body: "estimate", document: "", note: "usual" })).toBe("estimate: usual");
});
