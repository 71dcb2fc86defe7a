import { expect, test } from "vitest";

const files: Record<string, string> = import.meta.glob("./**/*.{ts,tsx}", {
  query: "?raw",
  import: "default",
  eager: true,
});

/** The files that a file takes something from, by their paths. */
function taken(path: string): string[] {
  const folder = path.slice(0, path.lastIndexOf("/"));
  return [...(files[path] ?? "").matchAll(/from "(\.[^"]+)"/g)].flatMap(([, wish]) => {
    const parts: string[] = [];
    for (const part of `${folder}/${wish}`.split("/")) {
      if (part === "..") parts.pop();
      else if (part !== ".") parts.push(part);
    }
    const bare = `./${parts.join("/")}`;
    return [bare, `${bare}.ts`, `${bare}.tsx`].filter((one) => one in files);
  });
}

/** The first circle that leads from a file back to itself, as a path; empty where none does. */
function circle(path: string, way: readonly string[], done: Set<string>): readonly string[] {
  if (way.includes(path)) return [...way.slice(way.indexOf(path)), path];
  if (done.has(path)) return [];
  for (const next of taken(path)) {
    const found = circle(next, [...way, path], done);
    if (found.length) return found;
  }
  done.add(path);
  return [];
}

test("no file takes from one that takes from it", () => {
  expect(Object.keys(files).length).toBeGreaterThan(100);
  expect(taken("./link/fields/PieceFields.tsx")).toContain("./link/fields/GlassFields.tsx");
  const done = new Set<string>();
  for (const path of Object.keys(files)) expect(circle(path, [], done)).toEqual([]);
});

const ROOMS = ["link", "ladder", "site", "start", "reference", "catalog", "exchange", "app"];

test("what is shared stands under every room", () => {
  for (const path of Object.keys(files).filter((one) => one.startsWith("./shared/")))
    for (const next of taken(path))
      expect([path, ROOMS.filter((room) => next.startsWith(`./${room}/`))]).toEqual([path, []]);
});
