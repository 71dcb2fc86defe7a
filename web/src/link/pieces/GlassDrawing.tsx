import type { Element } from "../../shared/api";
import { MIDDLE, PlugShape } from "./PlugShape";

type Glass = Extract<Element, { kind: "cord" | "run" | "pigtail" }>;

/** A cord hangs, a run lies straight and is long, a pigtail is thin; a crossing is drawn as one. */
export function GlassDrawing({ piece, w, color }: { piece: Glass; w: number; color: string }) {
  const left = piece.left ? 18 : 5;
  const right = w - (piece.right ? 18 : 5);
  return (
    <>
      {piece.kind === "run" ? (
        <Run x1={left} x2={right} color={color} />
      ) : (
        <Cord x1={left} x2={right} color={color} thin={piece.kind === "pigtail"} />
      )}
      {"crossed" in piece && piece.crossed && piece.strands !== 1 && (
        <Crossing x={(left + right) / 2} y={piece.kind === "run" ? MIDDLE - 20 : MIDDLE - 10} />
      )}
      {!piece.left && <Bare x={0} />}
      {!piece.right && <Bare x={w - 6} />}
      {piece.left && <PlugShape plug={piece.left} x={0} points="left" single={piece.strands === 1} />}
      {piece.right && <PlugShape plug={piece.right} x={w} points="right" single={piece.strands === 1} />}
    </>
  );
}

function Cord({ x1, x2, color, thin }: { x1: number; x2: number; color: string; thin: boolean }) {
  const sag = MIDDLE + 24;
  const path = `M${x1} ${MIDDLE}C${x1 + 10} ${sag} ${x2 - 10} ${sag} ${x2} ${MIDDLE}`;
  return (
    <>
      <path d={path} fill="none" stroke="var(--chakra-colors-fg)" strokeWidth={thin ? 4.6 : 7.6} />
      <path d={path} fill="none" stroke={color} strokeWidth={thin ? 3 : 6} />
    </>
  );
}

function Run({ x1, x2, color }: { x1: number; x2: number; color: string }) {
  const middle = (x1 + x2) / 2;
  return (
    <>
      <rect
        x={x1}
        y={MIDDLE - 7}
        width={x2 - x1}
        height="14"
        fill={color}
        stroke="var(--chakra-colors-fg)"
        strokeWidth="1"
      />
      <path
        d={`M${middle - 6} ${MIDDLE + 11}l5 -22M${middle + 1} ${MIDDLE + 11}l5 -22`}
        stroke="var(--chakra-colors-bg)"
        strokeWidth="4"
      />
      <path
        d={`M${middle - 8} ${MIDDLE + 11}l5 -22M${middle + 3} ${MIDDLE + 11}l5 -22`}
        stroke="var(--chakra-colors-fg)"
        strokeWidth="1"
      />
    </>
  );
}

function Crossing({ x, y }: { x: number; y: number }) {
  return (
    <path
      d={`M${x - 9} ${y - 4}h4l10 8h4M${x - 9} ${y + 4}h4l10 -8h4`}
      fill="none"
      stroke="var(--chakra-colors-fg)"
      strokeWidth="1.2"
    />
  );
}

function Bare({ x }: { x: number }) {
  return <path d={`M${x} ${MIDDLE - 3}h6M${x} ${MIDDLE + 3}h6`} stroke="var(--chakra-colors-fg)" strokeWidth="1" />;
}
