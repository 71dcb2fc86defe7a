import type { Catalog, LinkRow } from "../shared/api";
import { jacketColor } from "../shared/colors";

const WIDTH: Record<string, number> = {
  port: 9,
  module: 8,
  cord: 18,
  panel: 5,
  run: 60,
  splice: 6,
  pigtail: 10,
  attenuator: 8,
  twisted: 30,
  outlet: 5,
  jack: 8,
  assembly: 60,
  trunk: 60,
  "array-cord": 18,
  breakout: 22,
  cassette: 10,
  conversion: 10,
};
const INK = "var(--chakra-colors-fg)";

type Paint = Partial<Record<"fill" | "stroke" | "strokeWidth" | "strokeDasharray", string>>;

/** How the miniature of a chain is drawn, and its width: what has one color is one path, for rows pass by in hundreds. */
export function strokesOf(
  pieces: LinkRow["pieces"],
  catalog?: Catalog,
): { strokes: [Paint, string][]; width: number } {
  const found = new Map<string, [Paint, string]>();
  const draw = (paint: Paint, d: string) => {
    const key = JSON.stringify(paint);
    found.set(key, [paint, (found.get(key)?.[1] ?? "") + d]);
  };
  let x = 0;
  for (const piece of pieces) {
    const w = WIDTH[piece.kind] ?? 8;
    drawPiece(draw, piece, x, w, jacketColor(piece.fiber, catalog));
    x += w;
  }
  x = 0;
  for (const piece of pieces) {
    const w = WIDTH[piece.kind] ?? 8;
    const m = x + w / 2;
    const trouble = piece.severity === "fail" || piece.severity === "damage";
    if (trouble) draw({ stroke: INK, strokeWidth: "1.6" }, `M${m - 3} 1l6 6M${m + 3} 1l-6 6`);
    x += w;
  }
  return { strokes: [...found.values()], width: x || 1 };
}

const box = (x: number, y: number, w: number, h: number) => `M${x} ${y}h${w}v${h}h${-w}z`;

function drawPiece(
  draw: (paint: Paint, d: string) => void,
  { kind }: LinkRow["pieces"][number],
  x: number,
  w: number,
  color: string,
) {
  const middle = x + w / 2;
  switch (kind) {
    case "port":
      return draw({ fill: "none", stroke: INK, strokeWidth: "1" }, box(x, 4, w, 8));
    case "module":
    case "attenuator":
    case "jack":
      return draw({ fill: INK }, box(x, 6, w, 4));
    case "twisted":
      return draw({ stroke: INK, strokeWidth: "1", strokeDasharray: "3 1.5" }, `M${x} 7h${w}M${x} 9.5h${w}`);
    case "assembly":
      return draw({ stroke: INK, strokeWidth: "1" }, `M${x} 7h${w}M${x} 9.5h${w}`);
    case "outlet":
    case "panel":
      return draw({ fill: INK }, box(middle - 1, 2, 2, 12));
    case "splice":
      return draw({ fill: INK }, `M${middle - 2} 8a2 2 0 1 0 4 0a2 2 0 1 0 -4 0`);
    case "cassette":
    case "conversion":
      return draw({ fill: "none", stroke: INK, strokeWidth: "1" }, box(x + 1, 2, w - 2, 12));
    case "trunk":
      return draw({ fill: color }, box(x, 5, w, 2.4) + box(x, 8.6, w, 2.4));
    case "array-cord":
    case "breakout":
      return draw({ fill: color }, box(x, 6, w, 1.6) + box(x, 8.4, w, 1.6));
    case "run":
      return draw({ fill: color }, box(x, 6, w, 4));
    default:
      return draw({ fill: color }, box(x, 7, w, 2));
  }
}
