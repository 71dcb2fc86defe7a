import type { FaceSeen, StrandTable } from "../../shared/api";
import type { Place } from "../layout";

/** Where the cell of a face stands: at the edge of its piece on the side where it looks. */
const INSET = 10;

export function faceX(face: FaceSeen, places: readonly Place[]): number | null {
  const place = places.find((one) => one.id === face.element);
  if (!place) return null;
  return face.side === "left" ? place.x + INSET : place.x + place.w - INSET;
}

/** A position as one says it: of a pair A or B, of an array its number. */
export const positionText = (face: FaceSeen, position: number): string =>
  face.colors.length ? String(position) : (["A", "B"][position - 1] ?? String(position));

export const colorAt = (face: FaceSeen, position: number): string => face.colors[position - 1] ?? "";

/** A cell in words, for a screen reader. */
export function cellText(table: StrandTable, row: number, column: number, names: Map<string, string>): string {
  const lane = table.lanes[row];
  const face = table.faces[column];
  if (!lane || !face) return "";
  const position = lane.positions[column];
  const where = `${names.get(face.element) ?? face.element}, ${face.side} face`;
  const at = position == null ? "the light does not come here" : `position ${positionText(face, position)}`;
  const color = position == null ? "" : colorAt(face, position);
  return `lane ${lane.number} going ${lane.goes}, ${where}: ${at}${color ? `, ${color}` : ""}`;
}

export interface Cell {
  row: number;
  column: number;
}

const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
};

/** The cell that a key leads to; null where it leads nowhere. Home and End go along the lane. */
export function moved(cell: Cell, key: string, table: StrandTable): Cell | null {
  const columns = table.faces.length;
  if (key === "Home" || key === "End") return { ...cell, column: key === "Home" ? 0 : columns - 1 };
  const step = STEPS[key];
  if (!step) return null;
  const next = { row: cell.row + step[0], column: cell.column + step[1] };
  const inside = next.row >= 0 && next.row < table.lanes.length && next.column >= 0 && next.column < columns;
  return inside ? next : null;
}
