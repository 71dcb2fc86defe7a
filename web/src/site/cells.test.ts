import { expect, test } from "vitest";

import type { Plant } from "../shared/api";
import { tracersOf } from "../shared/colors";
import { type Column, cellText, cellValue, columns } from "./columns";
import { newRow } from "./shelves";

const plant = {
  places: [
    { id: "a", name: "A" },
    { id: "b", name: "B" },
  ],
  ways: [{ id: "way 1" }],
  cables: [],
  devices: [],
} as unknown as Plant;
const column = (key: string, more: Partial<Column>): Column => ({ key, label: key, width: 50, ...more });

test("what is typed in a cell is stored as its column has it", () => {
  expect(cellValue("2,5", column("x", { number: true }))).toBe(2.5);
  expect(cellValue("", column("x", { number: true }))).toBeNull();
  expect(cellValue("−12", column("x", { number: true }))).toBe(-12);
  expect(cellValue("far", column("x", { number: true }))).toBe("far");
  expect(cellValue("90; 45", column("x", { list: true, number: true }))).toEqual([90, 45]);
  expect(cellValue("", column("x", { length: true }))).toBe(0);
  expect(cellValue("", column("x", { length: true, optional: true }))).toBeNull();
  expect(cellText(["OM1", "OM2"], "")).toBe("OM1, OM2");
  expect([cellText(null, "m"), cellText(4, "m")]).toEqual(["", "4 m"]);
});

test("a new row has an id that is free and names that exist", () => {
  expect(newRow("ways", plant)).toMatchObject({ id: "way 2", start: "a", end: "b" });
  expect(newRow("places", plant).id).toBe("place 3");
});

test("every shelf has a name first and no column twice", () => {
  for (const shelf of ["places", "ways", "cables", "taps", "devices", "orders"] as const) {
    const keys = columns(shelf, plant, undefined).map((one) => one.key);
    expect(keys[0]).toBe("name");
    expect(new Set(keys).size).toBe(keys.length);
  }
});

test.each([
  ["blue", "blue", 0],
  ["blue with tracer", "blue", 1],
  ["aqua with 2 tracers", "aqua", 2],
  ["", "", 0],
])("the swatch of '%s'", (words, base, tracers) => expect(tracersOf(words)).toEqual({ base, tracers }));
