import { expect, test } from "vitest";

import { likeLine } from "./likeWords";

const seen = { fibers: 2 } as Parameters<typeof likeLine>[2];
const wish = { length: "3 m", near: "LC", far: "SC", count: "2", reader: "" };

test("a cord of one grade is ordered with its length and both ends", () => {
  expect(likeLine(wish, ["OM3"], seen)).toEqual({
    name: "duplex cord like the damaged one: OM3, LC to SC, 3 m",
    count: 2,
    why: "damaged cord",
  });
});

test("one grade or another is never ordered before somebody reads the print", () => {
  expect(likeLine(wish, ["OM1", "OM2"], seen)).toEqual({ missing: "who reads the print before it is ordered" });
  const line = likeLine({ ...wish, reader: "crew 2" }, ["OM1", "OM2"], seen);
  expect(line).toMatchObject({ why: "damaged cord; not before crew 2 has read the print" });
  expect(likeLine({ ...wish, reader: "crew 2" }, [], seen)).toHaveProperty("missing");
});

test.each([
  [{ length: "" }, "how long it must be"],
  [{ length: "long" }, 'a length: "long" has no number'],
  [{ far: "" }, "the plug at each end"],
  [{ count: "1.5" }, "how many, as a whole number"],
])("what is missing is named: %o", (change, missing) =>
  expect(likeLine({ ...wish, ...change }, ["OM3"], seen)).toEqual({ missing }),
);
