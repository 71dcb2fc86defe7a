import type { Element } from "../../shared/api";
import { PLUG_COLORS } from "../../shared/colors";
import { MIDDLE, PlugShape } from "./PlugShape";

const INK = "var(--chakra-colors-fg)";
const PANEL = "var(--chakra-colors-bg-panel)";

type Of<K extends Element["kind"]> = Extract<Element, { kind: K }>;
type Pins = "pins" | "holes" | "unknown";

/** An array plug from the side: one flat ferrule, its pins drawn where it has them, a mark where nobody knows. */
export function ArrayPlug({
  x,
  points,
  pins,
  polish,
}: {
  x: number;
  points: "left" | "right";
  pins: Pins;
  polish: "PC" | "APC";
}) {
  const tip =
    polish === "APC" ? `M0 ${MIDDLE + 9}L4 ${MIDDLE - 9}H9V${MIDDLE + 9}z` : `M1 ${MIDDLE - 9}H9V${MIDDLE + 9}H1z`;
  return (
    <g transform={points === "left" ? `translate(${x} 0)` : `translate(${x} 0) scale(-1 1)`}>
      {pins === "pins" && (
        <path d={`M-4 ${MIDDLE - 6}H3M-4 ${MIDDLE + 6}H3`} stroke={INK} strokeWidth="2.2" strokeLinecap="round" />
      )}
      <path d={tip} fill="var(--chakra-colors-bg)" stroke={INK} strokeWidth="0.9" />
      {pins === "holes" && <path d={`M1 ${MIDDLE - 6}h4M1 ${MIDDLE + 6}h4`} stroke={INK} strokeWidth="1" />}
      <rect
        x="8"
        y={MIDDLE - 11}
        width="14"
        height="22"
        rx="1"
        fill={polish === "APC" ? PLUG_COLORS.APC : PLUG_COLORS.PC}
        stroke={INK}
        strokeWidth="0.8"
      />
      <rect x="12" y={MIDDLE - 14} width="7" height="3" fill={INK} />
    </g>
  );
}

/** A trunk lies flat and long, an array cord hangs; a reversal, and a flip of pairs, are drawn in the middle. */
export function ArrayCable({ piece, w, color }: { piece: Of<"trunk" | "array-cord">; w: number; color: string }) {
  const middle = w / 2;
  const [x1, x2] = [20, w - 20];
  const sag = MIDDLE + 22;
  const path =
    piece.kind === "trunk"
      ? `M${x1} ${MIDDLE}H${x2}`
      : `M${x1} ${MIDDLE}C${x1 + 10} ${sag} ${x2 - 10} ${sag} ${x2} ${MIDDLE}`;
  const y = piece.kind === "trunk" ? MIDDLE - 20 : MIDDLE - 12;
  return (
    <>
      <path d={path} fill="none" stroke={INK} strokeWidth="12" />
      <path d={path} fill="none" stroke={color} strokeWidth="10" />
      <path d={path} fill="none" stroke={INK} strokeWidth="0.7" strokeDasharray="7 3" />
      <Wiring wiring={piece.wiring} x={middle} y={y} />
      <ArrayPlug x={0} points="left" pins={piece.left_pins} polish={piece.polish} />
      <ArrayPlug x={w} points="right" pins={piece.right_pins} polish={piece.polish} />
    </>
  );
}

function Wiring({ wiring, x, y }: { wiring: string; x: number; y: number }) {
  const turned = wiring.endsWith("reversed");
  const flipped = wiring.startsWith("pair-flipped");
  return (
    <g fill="none" stroke={INK} strokeWidth="1.1">
      {turned ? <path d={`M${x - 10} ${y - 5}L${x + 10} ${y + 5}M${x - 10} ${y + 5}L${x + 10} ${y - 5}`} /> : null}
      {!turned && !flipped ? <path d={`M${x - 10} ${y - 4}h20M${x - 10} ${y + 4}h20`} /> : null}
      {flipped &&
        [-6, 2].map((dy) => (
          <path
            key={dy}
            d={`M${x - (turned ? 22 : 8)} ${y + dy}l8 4M${x - (turned ? 22 : 8)} ${y + dy + 4}l8 -4`}
          />
        ))}
    </g>
  );
}

/** A flat ferrule on one side, legs on the other; the leg of this link is the one that goes on. */
export function BreakoutDrawing({ piece, w, color }: { piece: Of<"breakout">; w: number; color: string }) {
  const left = piece.head === "left";
  const fan = w * 0.45;
  const plug = { shape: piece.leg_shape, polish: piece.leg_polish };
  return (
    <>
      <g transform={left ? undefined : `translate(${w} 0) scale(-1 1)`}>
        <path d={`M20 ${MIDDLE}H${fan}`} stroke={INK} strokeWidth="10" />
        <path d={`M20 ${MIDDLE}H${fan}`} stroke={color} strokeWidth="8" />
        {[-18, 16, 26].map((dy) => (
          <path
            key={dy}
            d={`M${fan} ${MIDDLE}C${fan + 10} ${MIDDLE} ${fan + 6} ${MIDDLE + dy} ${fan + 18} ${MIDDLE + dy}`}
            fill="none"
            stroke={INK}
            strokeDasharray="3 2"
          />
        ))}
        <path d={`M${fan} ${MIDDLE}H${w - 18}`} stroke={INK} strokeWidth="5" />
        <path d={`M${fan} ${MIDDLE}H${w - 18}`} stroke={color} strokeWidth="3.6" />
      </g>
      <ArrayPlug
        x={left ? 0 : w}
        points={left ? "left" : "right"}
        pins={piece.head_pins}
        polish={piece.head_polish}
      />
      <PlugShape plug={plug} x={left ? w : 0} points={left ? "right" : "left"} />
    </>
  );
}

/** A box in a panel: one flat opening at its rear, small ones at its front; the one of this link is filled. */
export function CassetteDrawing({ piece, w }: { piece: Of<"cassette" | "conversion">; w: number }) {
  const rear = piece.rear === "left" ? 0 : w;
  const front = piece.rear === "left" ? w - 9 : 0;
  const taken = piece.front ?? 1;
  const shown = [1, 2, 3, 4, 5, 6].map((n) => n + Math.max(0, taken - 6));
  return (
    <>
      <rect x="4" y="6" width={w - 8} height="80" fill={PANEL} stroke={INK} />
      {shown.map((n, i) => (
        <g key={n}>
          <rect
            x={front}
            y={11 + i * 12}
            width="9"
            height="9"
            fill={n === taken ? INK : "var(--chakra-colors-bg)"}
            stroke={INK}
            strokeWidth="0.8"
          />
          {n === taken && (
            <path
              d={`M${piece.rear === "left" ? w - 9 : 9} ${15 + i * 12}L${piece.rear === "left" ? 10 : w - 10} ${MIDDLE}`}
              stroke={INK}
              strokeWidth="1.4"
            />
          )}
        </g>
      ))}
      <rect
        x={rear ? w - 10 : 0}
        y={MIDDLE - 12}
        width="10"
        height="24"
        fill="var(--chakra-colors-bg-muted)"
        stroke={INK}
      />
    </>
  );
}
