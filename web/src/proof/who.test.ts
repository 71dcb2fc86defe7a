import { beforeEach, expect, it, vi } from "vitest";

const kept = new Map<string, string>();
const at = (project: number) => vi.stubGlobal("window", { location: { pathname: `/p/${project}/test` } });

beforeEach(() => {
  kept.clear();
  vi.resetModules();
  vi.stubGlobal("localStorage", {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => kept.set(key, value),
  });
});

it("keeps who reads, and where, for each project apart", async () => {
  at(1);
  const { known, put } = await import("./who");
  put({ operator: "night crew", place: "Harbor office" });
  expect(known()).toMatchObject({ operator: "night crew", place: "Harbor office" });
  at(2);
  expect(known()).toMatchObject({ operator: "", place: "" });
  put({ operator: "crew 2" });
  at(1);
  expect(known().operator).toBe("night crew");
  expect([...kept.keys()]).toEqual(["tester-1", "tester-2"]);
});
