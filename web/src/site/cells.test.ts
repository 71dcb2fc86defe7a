import { expect, test } from "vitest";

import type { Plant } from "../shared/api";
import { tracersOf } from "../shared/colors";
import { type Column, cellText, cellValue, columns } from "./columns";
import { lacking, newRow, onward } from "./shelves";

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

test("what is typed in a cell goes to the core as its column has it", () => {
  expect(cellValue("2,5", column("x", { number: true }))).toBe("2,5");
  expect(cellValue("", column("x", { number: true }))).toBeNull();
  expect(cellValue("−12", column("x", { number: true }))).toBe("−12");
  expect(cellValue("far", column("x", { number: true }))).toBe("far");
  expect(cellValue("1,200; 45,90", column("x", { list: true, number: true }))).toEqual(["1,200", "45", "90"]);
  expect(cellValue("90; 45", column("x", { list: true, number: true }))).toEqual(["90", "45"]);
  expect(cellValue("", column("x", { length: true }))).toBe(0);
  expect(cellValue("", column("x", { length: true, optional: true }))).toBeNull();
  expect(cellText(["OM1", "OM2"], "")).toBe("OM1, OM2");
  expect([cellText(null, "m"), cellText(4, "m")]).toEqual(["", "4 m"]);
});

test("a new row has an id that is free, and where it leads is never preset", () => {
  expect(newRow("ways", plant)).toMatchObject({ id: "way 2", name: "", start: "", end: "", length_m: "" });
  expect(newRow("cables", plant)).toMatchObject({ id: "cable 1", name: "", ways: [] });
  expect(newRow("places", plant).id).toBe("place 3");
});

test.each([
  ["ways", { name: " " }, "give it a name"],
  ["ways", { name: "duct" }, "choose where it leads from and to"],
  ["ways", { name: "duct", start: "a", end: "a", length_m: "9" }, "it leads back to where it starts"],
  ["ways", { name: "duct", start: "a", end: "b" }, "give its length"],
  ["ways", { name: "duct", start: "a", end: "b", length_m: "9" }, ""],
  ["cables", { name: "backbone" }, "choose the ways that it lies in"],
  ["cables", { name: "backbone", ways: ["way 1"] }, ""],
] as const)("what a new row of %s lacks: %o", (shelf, values, words) =>
  expect(lacking(shelf, { ...newRow(shelf, plant), ...values })).toBe(words),
);

const three = [
  { id: "w1", name: "Quay duct, east", start: "a", end: "b" },
  { id: "w2", name: "Dike", start: "c", end: "b" },
  { id: "w3", name: "Yard", start: "a", end: "d" },
] as unknown as Plant["ways"];
const ways = column("ways", { list: true, rows: (three ?? []).map((way) => [way.id, way.name] as const) });

test.each([
  ["Quay duct, east; dike", ["w1", "w2"]],
  ["w1, w2", ["w1", "w2"]],
  ["QUAY DUCT, EAST", ["w1"]],
  ["Dike, Yard", ["w2", "w3"]],
  ["Nowhere; Dike", ["Nowhere", "w2"]],
  ["", []],
])("the ways of a cable are typed by their names: '%s'", (text, ids) => expect(cellValue(text, ways)).toEqual(ids));

test("and shown by them", () => expect(cellText(["w1", "gone"], "", ways)).toBe("Quay duct, east; gone"));

test("a cable goes on only where the last way ended", () => {
  expect(onward(three, []).map(([id]) => id)).toEqual(["w1", "w2", "w3"]);
  expect(onward(three, ["w1"]).map(([id]) => id)).toEqual(["w2", "w3"]);
  expect(onward(three, ["w3", "w1"]).map(([id]) => id)).toEqual(["w2"]);
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
