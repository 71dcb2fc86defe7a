import type { Element, Plant, PlantOut } from "../shared/api";
import { kindName } from "../shared/kinds";
import type { Row } from "./rows";

export type SharedShelf = "parts" | "frames";
export type Frame = NonNullable<Plant["frames"]>[number];
export type Part = NonNullable<Plant["parts"]>[number];
type Hole = NonNullable<Frame["held"]>[number];

/** What the holes of a frame hold, counted: `18 × LC panel, 2 × outlet`. */
export function heldWords(held: readonly Hole[]): string {
  const counts = new Map<string, number>();
  for (const { adapter, part } of held) {
    const shape = adapter && "shape" in adapter ? `${adapter.shape} ` : "";
    const word = adapter ? `${shape}${kindName(adapter.kind)}` : `front of ${part}`;
    counts.set(word, (counts.get(word) ?? 0) + 1);
  }
  return [...counts].map(([word, count]) => `${count} × ${word}`).join(", ") || "nothing yet";
}

/** Which link has which position: `1 Crane 1, 2 Crane 2; 22 free`. */
export function takenWords(use: PlantOut["shared"][number] | undefined): string {
  if (!use) return "";
  const links = Object.entries(use.taken).map(([position, link]) => `${position} ${link}`);
  return `${links.join(", ") || "no link"}; ${use.free.length} free`;
}

/** A frame with an adapter in each hole that is empty. */
export const filled = (frame: Frame, adapter: Hole["adapter"]): Hole[] => {
  const held = new Map((frame.held ?? []).map((hole) => [hole.number, hole]));
  return Array.from(
    { length: frame.holes ?? 24 },
    (_, at) => held.get(at + 1) ?? { number: at + 1, adapter, part: "" },
  );
};

/** The pieces that a row holds, those that are alike once, with how many they are. */
export function heldGroups(shelf: SharedShelf, row: Row): { piece: Element; count: number }[] {
  if (shelf === "parts") return [{ piece: (row as unknown as Part).holds, count: 1 }];
  const groups = new Map<string, { piece: Element; count: number }>();
  for (const { adapter } of (row as unknown as Frame).held ?? []) {
    if (!adapter) continue;
    const group = groups.get(JSON.stringify(adapter)) ?? { piece: adapter, count: 0 };
    group.count += 1;
    groups.set(JSON.stringify(adapter), group);
  }
  return [...groups.values()];
}

/** The row with some fields of a piece that it holds set anew, in every hole that holds its like. */
export function withHeld(shelf: SharedShelf, row: Row, old: Element, values: Record<string, unknown>): Row {
  if (shelf === "parts") return { ...row, holds: { ...old, ...values } };
  const like = JSON.stringify(old);
  const held = (row as unknown as Frame).held ?? [];
  return {
    ...row,
    held: held.map((hole) =>
      JSON.stringify(hole.adapter) === like ? { ...hole, adapter: { ...old, ...values } } : hole,
    ),
  };
}
