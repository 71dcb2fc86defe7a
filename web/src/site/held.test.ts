import { expect, test } from "vitest";

import type { Element } from "../shared/api";
import { type Frame, filled, heldGroups, heldWords, withHeld } from "./held";

const lc = { kind: "panel", shape: "LC" } as unknown as Element;
const sc = { kind: "panel", shape: "SC" } as unknown as Element;
const frame = { id: "f", name: "F", holes: 4, held: [{ number: 2, adapter: sc, part: "" }] } as unknown as Frame;

test("a frame is filled around what it holds, and says what that is", () => {
  const held = filled(frame, lc);
  expect(held.map((hole) => hole.number)).toEqual([1, 2, 3, 4]);
  expect(heldWords(held)).toBe("3 × LC panel, 1 × SC panel");
  expect(heldWords([])).toBe("nothing yet");
});

test("a change of a piece is one in every hole that holds its like, and in no other", () => {
  const row = { ...frame, held: filled(frame, lc) } as never;
  expect(heldGroups("frames", row).map(({ count }) => count)).toEqual([3, 1]);
  const made = withHeld("frames", row, lc, { keys: "opposed" }) as unknown as Frame;
  expect(made.held?.map((hole) => (hole.adapter as { keys?: string }).keys)).toEqual([
    "opposed",
    undefined,
    "opposed",
    "opposed",
  ]);
  const part = { id: "p", name: "P", holds: lc } as never;
  expect(withHeld("parts", part, lc, { shape: "SC" }).holds).toEqual(sc);
});
