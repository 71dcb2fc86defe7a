import { expect, test } from "vitest";

import { moves } from "./moves";

test("moves are counted by verdict, the worst news first", () => {
  const change = (before: string, after: string) => ({ before, after });
  expect(
    moves([
      change("marginal", "pass"),
      change("pass", "fail"),
      change("marginal", "pass"),
      change("pass on estimate", "pass"),
    ]),
  ).toEqual([
    { before: "pass", after: "fail", count: 1, way: "worse" },
    { before: "pass on estimate", after: "pass", count: 1, way: "as good" },
    { before: "marginal", after: "pass", count: 2, way: "better" },
  ]);
  expect(moves([])).toEqual([]);
});
