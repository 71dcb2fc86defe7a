import type { NetworkOut } from "../shared/api";

type Graph = Pick<NetworkOut, "boxes" | "links" | "tree">;

/** Boxes in rows: the roots first, then what is one link away, and so on; what hangs on nothing stands last. */
export function rowsOf({ boxes, links, tree }: Graph): string[][] {
  const near = new Map<string, string[]>(boxes.map((box) => [box.name, []]));
  for (const link of links) {
    near.get(String(link["a"]))?.push(String(link["b"]));
    near.get(String(link["b"]))?.push(String(link["a"]));
  }
  const level = new Map<string, number>();
  const spread = (start: string) => {
    level.set(start, 0);
    const todo = [start];
    for (let name = todo.shift(); name !== undefined; name = todo.shift()) {
      for (const other of near.get(name) ?? []) {
        if (!level.has(other)) {
          level.set(other, (level.get(name) ?? 0) + 1);
          todo.push(other);
        }
      }
    }
  };
  const starts = [tree.root, ...(tree.roots ?? []), ...boxes.map((box) => box.name)];
  const linked = (name: string) => (near.get(name) ?? []).length > 0;
  for (const name of starts) if (name && near.has(name) && linked(name) && !level.has(name)) spread(name);
  const deepest = Math.max(-1, ...level.values());
  const rows = Array.from({ length: deepest + 1 }, (_, row) =>
    boxes.map((box) => box.name).filter((name) => level.get(name) === row),
  );
  const alone = boxes.map((box) => box.name).filter((name) => !level.has(name));
  return alone.length ? [...rows, alone] : rows.length ? rows : [[]];
}
