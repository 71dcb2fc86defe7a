import { describe, expect, it } from "vitest";

import type { LinkDetail, LinkRow } from "./api";
import { type Listed, renewed, rowsOf, withAnswer } from "./listed";

const row = (id: number, name = `link ${id}`) => ({ id, name }) as LinkRow;
const list = (revision: number, ...rows: LinkRow[]): Listed => ({
  revision,
  count: rows.length,
  clashes: [],
  rows,
});
const answer = (id: number, revision: number) =>
  ({ id, revision, clashes: [], row: row(id, "changed") }) as unknown as LinkDetail;

describe("the list of links", () => {
  it("takes news: order and removals from the numbers, and leaves the other rows the very same", () => {
    const known = list(4, row(1), row(2), row(3));
    const now = renewed(known, { revision: 7, clashes: [], numbers: [3, 1, 4], rows: [row(4), row(1, "renamed")] });
    expect(now.rows.map((one) => one.name)).toEqual(["link 3", "renamed", "link 4"]);
    expect(now.rows[0]).toBe(known.rows[2]);
    expect([now.revision, now.count]).toEqual([7, 3]);
  });

  it("takes the answer to the next change without asking", () => {
    const known = list(4, row(1), row(2));
    const now = withAnswer(known, answer(2, 5));
    expect(now?.rows.map((one) => one.name)).toEqual(["link 1", "changed"]);
    expect(now?.rows[0]).toBe(known.rows[0]);
  });

  it.each([
    ["somebody else changed something before", list(4, row(1), row(2)), answer(2, 6)],
    ["the link is new", list(4, row(1)), answer(2, 5)],
    ["not all of the list is here", { ...list(4, row(1), row(2)), count: 9 }, answer(2, 5)],
  ])("asks where %s", (_why, known, answered) => expect(withAnswer(known, answered)).toBeNull());

  it("stays where the answer is no news", () => {
    const known = list(4, row(1));
    expect(withAnswer(known, answer(1, 3))).toBe(known);
  });

  it("fails links that share a port, and them only; the others stay the very same", () => {
    const passing = (id: number) => ({ ...row(id), verdict: "pass", verdict_text: "pass" }) as LinkRow;
    const known = { ...list(4, passing(1), passing(2), passing(3)), clashes: [{ link: 2, what: "1 at hall" }] };
    const shown = rowsOf(known);
    expect(shown.map((one) => one.verdict)).toEqual(["pass", "fail", "pass"]);
    expect(shown[0]).toBe(known.rows[0]);
    expect(rowsOf({ ...known, clashes: [] })).toBe(known.rows);
  });

  it("forgets a shared port with the next answer", () => {
    const known = { ...list(4, row(1), row(2)), clashes: [{ link: 1, what: "1 at hall" }] };
    expect(withAnswer(known, answer(2, 5))?.clashes).toEqual([]);
    expect(renewed(known, { revision: 7, clashes: [], numbers: [1], rows: [] }).clashes).toEqual([]);
  });

  it("keeps what it knows of shared ports where the answer left the ports alone", () => {
    const known = { ...list(4, row(1), row(2)), clashes: [{ link: 1, what: "1 at hall" }] };
    const quiet = { ...answer(2, 5), clashes: null } as LinkDetail;
    expect(withAnswer(known, quiet)?.clashes).toBe(known.clashes);
  });

  it("leaves what is damaged damaged", () => {
    const broken = { ...row(1), verdict: "damage", verdict_text: "damage" } as LinkRow;
    expect(rowsOf({ ...list(4, broken), clashes: [{ link: 1, what: "" }] })[0]).toBe(broken);
  });
});
