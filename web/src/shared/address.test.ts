import { describe, expect, it } from "vitest";

import { baseOf, pageIn, projectIn } from "./address";

describe("the project in the address", () => {
  it.each([
    ["/p/3/ladder", 3, "/ladder"],
    ["/p/12", 12, "/"],
    ["/links/5", null, "/links/5"],
    ["/p/x/links", null, "/p/x/links"],
    ["/p/3ladder", null, "/p/3ladder"],
  ])("is read from %s", (path, id, page) => {
    expect(projectIn(path)).toBe(id);
    expect(pageIn(path)).toBe(page);
  });

  it("comes back as it was written", () => {
    expect(projectIn(`${baseOf(7)}/site/routes`)).toBe(7);
    expect(pageIn(`${baseOf(7)}/site/routes`)).toBe("/site/routes");
  });
});
