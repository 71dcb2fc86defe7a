import { describe, expect, it } from "vitest";

import type { LinkRow } from "../shared/api";
import { strokesOf } from "./strokes";

type Mark = LinkRow["pieces"][number];
const piece = (kind: string, severity: Mark["severity"] = null): Mark => ({ kind, severity, fiber: ["OM3"] });
const chain = [..."port module cord panel run panel cord module port".split(" ")].map((kind) => piece(kind));

describe("the chain in miniature", () => {
  it("draws what has one color as one path, however many pieces there are", () => {
    const once = strokesOf(chain);
    const twice = strokesOf([...chain, ...chain]);
    expect(twice.strokes.length).toBe(once.strokes.length);
    expect(twice.width).toBe(2 * once.width);
  });

  it("marks what breaks a link, and nothing less", () => {
    const drawn = (severity: Mark["severity"]) => strokesOf([piece("cord", severity)]).strokes.length;
    expect([drawn("fail"), drawn("damage"), drawn("caution"), drawn(null)]).toEqual([2, 2, 1, 1]);
  });

  it("gives a kind that it does not know room, and an empty chain a width", () => {
    expect(strokesOf([piece("furcation")]).width).toBeGreaterThan(0);
    expect(strokesOf([]).width).toBeGreaterThan(0);
  });
});
