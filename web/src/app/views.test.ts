import { describe, expect, it } from "vitest";

import { STAGES, VIEWS, stageOf, waiting } from "./views";

describe("the stages of the job", () => {
  it.each([
    ["/links/12", "Links"],
    ["/site/routes", "Layout"],
    ["/places", "Survey"],
    ["/log", "Project"],
    ["/nowhere", "Links"],
  ])("know that %s belongs to %s", (path, name) => {
    expect(stageOf(path).name).toBe(name);
  });

  it("name each page once", () => {
    expect(new Set(VIEWS.map(([path]) => path)).size).toBe(VIEWS.length);
  });

  it("count match and budget under Links", () => {
    const rows = (["survey", "match", "budget", "budget", "order"] as const).map((stage) => ({ stage }));
    expect(STAGES.map((stage) => waiting(stage, rows))).toEqual([1, 0, 3, 1, 0, 0]);
  });
});
