import { describe, expect, it } from "vitest";

import { type Problem, ProblemError, isBusy, worthAnotherTry } from "./api";

const problem = (status: number, retry_s: number | null = null) =>
  new ProblemError({ type: "about:blank", title: "", status, detail: "", errors: [], retry_s } as Problem);

describe("what is asked again", () => {
  it("makes a change again by itself only where the api says that nothing was changed", () => {
    expect(isBusy(problem(503, 1))).toBe(true);
    expect(isBusy(problem(0, 1))).toBe(false); // no answer: it may have been made
    expect(isBusy(problem(409, 1))).toBe(false);
    expect(isBusy(new Error("x"))).toBe(false);
  });
  it("offers another try where one may help", () => {
    expect(worthAnotherTry(problem(503, 30))).toBe(true);
    expect(worthAnotherTry(problem(0, 1))).toBe(true);
    expect(worthAnotherTry(problem(401))).toBe(true); // once the passphrase was said
    expect(worthAnotherTry(problem(403, 4))).toBe(false);
    expect(worthAnotherTry(problem(422))).toBe(false);
  });
});
