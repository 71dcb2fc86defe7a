import { describe, expect, it } from "vitest";

import type { ProofRow } from "../shared/api";
import { lossScale, rowName } from "./bands";
import { signed, unsaid } from "./who";

const row = (limit_db: number, value_db?: number) =>
  ({
    strand: 1,
    far: 2,
    wavelength_nm: 1310,
    direction: "left",
    should: { limit_db, least_db: 0.2, application_db: null },
    reading: value_db === undefined ? null : { value_db },
  }) as unknown as ProofRow;

describe("one scale for all readings of a link", () => {
  it("holds limits and readings, and a dark one does not squeeze the others", () => {
    const scale = lossScale([row(1.5), row(2), row(1.5, 70)], 300);
    expect(scale.x(0)).toBeLessThan(scale.x(1.5));
    expect(scale.x(2)).toBeLessThan(300);
    expect(scale.x(2) - scale.x(1.5)).toBeGreaterThan(20);
    expect(scale.x(70)).toBeLessThanOrEqual(300);
    expect(scale.ticks.length).toBeLessThanOrEqual(9);
  });
  it("says a row as a person does", () => {
    expect(rowName(row(1))).toBe("strand 1 to 2, 1310 nm, right to left");
  });
});

describe("the head of a record", () => {
  it("takes day and time when it is sent, and leaves an empty calibration out", () => {
    const by = { instrument: "PM-1", calibrated_on: "", operator: "x", place: "" };
    const told = signed(by, new Date(2026, 10, 6, 7, 5, 9));
    expect([told.taken_on, told.at_time, told.calibrated_on]).toEqual(["2026-11-06", "07:05:09", null]);
    expect(unsaid(by)).toEqual(["calibration day", "place"]);
  });
});
