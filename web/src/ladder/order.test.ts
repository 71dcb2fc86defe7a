import { describe, expect, test } from "vitest";

import type { LinkRow } from "../shared/api";
import { arrange, matches } from "./order";

const row = (id: number, more: Partial<LinkRow>): LinkRow => ({
  id,
  name: `link ${id}`,
  from_place: "Harbor office",
  to_place: "Cold store",
  applications: ["10GBASE-LR"],
  length_m: 100,
  verdict: "pass",
  verdict_text: "pass",
  margin_db: 1,
  house_margin_db: 1,
  stage: "order",
  acceptance: "",
  pieces: [],
  ...more,
});

describe("the filter", () => {
  test.each([
    ["", true],
    ["harb cold", true],
    ["10gbase", true],
    ["arbor", false],
    ["pass, cold", true],
    ["cold lake", false],
  ])("'%s' by the beginnings of words", (text, shown) => expect(matches(row(1, {}), text)).toBe(shown));
});

describe("the order", () => {
  const rows = [
    row(1, { verdict: "pass", margin_db: null, length_m: null }),
    row(2, { verdict: "damage", verdict_text: "damage", margin_db: 3 }),
    row(3, { verdict: "fail", verdict_text: "fail", margin_db: -2, length_m: 5, stage: "survey" }),
  ];
  const ids = (lines: ReturnType<typeof arrange>) =>
    lines.map((line) => (line.kind === "row" ? line.row.id : line.text));
  test.each([
    ["order", [1, 2, 3]],
    ["verdict", [2, 3, 1]],
    ["margin", [1, 3, 2]],
    ["length", [3, 2, 1]],
  ] as const)("by %s", (sort, expected) => expect(ids(arrange(rows, "", sort, "none"))).toEqual(expected));
  test("groups by verdict come worst first, by stage in the order of the job", () => {
    expect(ids(arrange(rows, "", "order", "verdict"))).toEqual(["damage", 2, "fail", 3, "pass", 1]);
    expect(ids(arrange(rows, "", "order", "stage"))).toEqual(["next: survey", 3, "next: order", 1, 2]);
  });
});
