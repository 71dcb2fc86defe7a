import { describe, expect, it } from "vitest";

import { rowsOf } from "./networkRows";

const box = (name: string) => ({ name }) as never;
const link = (a: string, b: string) => ({ a, b }) as never;

describe("boxes in rows", () => {
  it("begin with the root and go by distance; what is linked to nothing stands last", () => {
    const rows = rowsOf({
      boxes: ["lock", "core", "far", "spare"].map(box),
      links: [link("core", "lock"), link("far", "lock")],
      tree: { root: "core", roots: ["core"] } as never,
    });
    expect(rows).toEqual([["core"], ["lock"], ["far"], ["spare"]]);
  });

  it("stand in one row where nothing is linked, and are empty where there are none", () => {
    const tree = { root: null } as never;
    expect(rowsOf({ boxes: ["a", "b"].map(box), links: [], tree })).toEqual([["a", "b"]]);
    expect(rowsOf({ boxes: [], links: [], tree })).toEqual([[]]);
  });
});
