import { beforeEach, describe, expect, it, vi } from "vitest";

import { type Problem, ProblemError, call, callLive } from "./api";
import {
  type Doubt,
  answer,
  asTyped,
  keepDecimalSign,
  meant,
  numbersIn,
  pathWithReading,
  withReading,
} from "./doubt";

const FEET: Doubt = { field: "length_m", typed: "1,200 ft", readings: ["1200 ft", "1.2 ft"] };

beforeEach(() => {
  const kept = new Map<string, string>();
  vi.stubGlobal("localStorage", {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => kept.set(key, value),
  });
});

describe("how a comma is meant", () => {
  it("is asked until the person's sign is set, and the sign decides then", () => {
    expect(meant(FEET)).toBeUndefined();
    keepDecimalSign("point");
    expect(meant(FEET)).toBe("1200 ft");
    keepDecimalSign("comma");
    expect(meant(FEET)).toBe("1.2 ft");
    keepDecimalSign("ask");
    expect(meant({ ...FEET, readings: ["0.4 ft"] })).toBe("0.4 ft");
  });

  it("puts the reading in the place of that text in that field, and nowhere else", () => {
    const body = { name: "1,200 ft", elements: [{ length_m: "1,200 ft" }, { length_m: 4 }], note: null };
    const doubt = { ...FEET, field: "elements.0.run.length_m" };
    expect(withReading(body, doubt, "1200 ft")).toEqual({
      name: "1,200 ft",
      elements: [{ length_m: "1200 ft" }, { length_m: 4 }],
      note: null,
    });
    expect(withReading({ name: "1,200 ft" }, doubt, "x")).toEqual({ name: "1,200 ft" });
    const list = { field: "reel_sizes_m.1", typed: "1,000", readings: ["1000", "1.000"] };
    expect(withReading({ reel_sizes_m: ["500", "1,000"] }, list, "1000")).toEqual({
      reel_sizes_m: ["500", "1000"],
    });
    expect(
      pathWithReading("/capacity?growth=4%2C5&years=4", { ...list, field: "growth", typed: "4,5" }, "4.5"),
    ).toBe("/capacity?growth=4.5&years=4");
  });

  it("takes a list apart without taking a thousand apart", () => {
    expect(numbersIn("500, 1000,2000; 4000 8000")).toEqual(["500", "1000", "2000", "4000", "8000"]);
    expect(numbersIn("1,000; 90,45")).toEqual(["1,000", "90", "45"]);
    expect([asTyped(" 0,5 "), asTyped(" ")]).toEqual(["0,5", null]);
  });
});

describe("a call with a number in doubt", () => {
  const refusal = { title: "", status: 422, detail: "can mean two", errors: [{ ...FEET, message: "" }] } as Problem;
  const sent: unknown[] = [];
  beforeEach(() => {
    sent.length = 0;
    vi.stubGlobal("fetch", (_: string, { body }: { body: string }) => {
      const wish = JSON.parse(body) as { length_m: string };
      sent.push(wish.length_m);
      const sure = !wish.length_m.includes(",");
      return Promise.resolve(
        new Response(JSON.stringify(sure ? { ok: true } : refusal), { status: sure ? 200 : 422 }),
      );
    });
  });

  it("is sent again as the person's sign says", async () => {
    keepDecimalSign("comma");
    await expect(call("/x", "POST", { length_m: "1,200 ft" })).resolves.toEqual({ ok: true });
    expect(sent).toEqual(["1,200 ft", "1.2 ft"]);
  });

  it("stops nobody while a page only looks something up, and uses the answer afterwards", async () => {
    keepDecimalSign("ask");
    await expect(callLive("/x", { length_m: "1,200 ft" })).rejects.toBeInstanceOf(ProblemError);
    answer(FEET, "1200 ft");
    await expect(callLive("/x", { length_m: "1,200 ft" })).resolves.toEqual({ ok: true });
    expect(sent).toEqual(["1,200 ft", "1,200 ft", "1200 ft"]);
  });

  it("is not asked about where the text is of a file", async () => {
    vi.stubGlobal("fetch", () => Promise.resolve(new Response(JSON.stringify(refusal), { status: 422 })));
    await expect(call("/x", "POST", { text: "from,length\nA,1,200 ft" })).rejects.toBeInstanceOf(ProblemError);
  });
});
