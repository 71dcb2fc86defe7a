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
};
const INK = "var(--chakra-colors-fg)";

/** The chain in miniature: glass in its jacket color, a cross or a tick where a finding stands. */
export function MiniChain({ pieces, catalog }: { pieces: LinkRow["pieces"]; catalog?: Catalog }) {
  const total = pieces.reduce((sum, p) => sum + (WIDTH[p.kind] ?? 8), 0) || 1;
  const starts = pieces.map((_, i) => pieces.slice(0, i).reduce((sum, p) => sum + (WIDTH[p.kind] ?? 8), 0));
  return (
    <svg viewBox={`0 0 ${total} 14`} width="100%" height="14" preserveAspectRatio="none" aria-hidden>
      {pieces.map((piece, i) => {
        const x = starts[i] ?? 0;
        const w = WIDTH[piece.kind] ?? 8;
        const trouble = piece.severity === "fail" || piece.severity === "damage";
        return (
          <g key={i}>
            <Piece kind={piece.kind} x={x} w={w} color={jacketColor(piece.fiber, catalog)} />
            {trouble && (
              <path d={`M${x + w / 2 - 3} 1l6 6M${x + w / 2 + 3} 1l-6 6`} stroke={INK} strokeWidth="1.6" />
            )}
          </g>
        );
      })}
    </svg>
  );
}

function Piece({ kind, x, w, color }: { kind: string; x: number; w: number; color: string }) {
  switch (kind) {
    case "port":
      return <rect x={x} y="4" width={w} height="8" fill="none" stroke={INK} strokeWidth="1" />;
    case "module":
    case "attenuator":
      return <rect x={x} y="6" width={w} height="4" fill={INK} />;
    case "twisted":
    case "assembly":
      return (
        <path
          d={`M${x} 7h${w}M${x} 9.5h${w}`}
          stroke={INK}
          strokeWidth="1"
          strokeDasharray={kind === "twisted" ? "3 1.5" : undefined}
        />
      );
    case "jack":
      return <rect x={x} y="6" width={w} height="4" fill={INK} />;
    case "outlet":
    case "panel":
      return <rect x={x + w / 2 - 1} y="2" width="2" height="12" fill={INK} />;
    case "splice":
      return <circle cx={x + w / 2} cy="8" r="2" fill={INK} />;
    case "run":
      return <rect x={x} y="6" width={w} height="4" fill={color} />;
    default:
      return <rect x={x} y="7" width={w} height="2" fill={color} />;
  }
}
