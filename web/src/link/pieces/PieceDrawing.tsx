import type { Catalog, Element } from "../../shared/api";
import { PLUG_COLORS, jacketColor } from "../../shared/colors";
import { AssemblyDrawing, Contacts, Jack, TwistedDrawing } from "./CopperDrawing";
import { specOf } from "../../shared/kinds";
import { ArrayCable, BreakoutDrawing, CassetteDrawing } from "./ArrayDrawing";
import { GlassDrawing } from "./GlassDrawing";
import { MIDDLE, PlugShape } from "./PlugShape";

export const PIECE_HEIGHT = 92;
const INK = "var(--chakra-colors-fg)";

/** One piece as it is touched, in a box of the given width. `atLeft`: it belongs to the left end of the link. */
export function PieceDrawing({
  piece,
  w,
  atLeft,
  catalog,
}: {
  piece: Element;
  w: number;
  atLeft: boolean;
  catalog?: Catalog;
}) {
  return (
    <svg width={w} height={PIECE_HEIGHT} aria-hidden style={{ display: "block", overflow: "visible" }}>
      {drawing(piece, w, atLeft, catalog)}
    </svg>
  );
}

function drawing(piece: Element, w: number, atLeft: boolean, catalog?: Catalog) {
  switch (piece.kind) {
    case "port":
      return <Port w={w} atLeft={atLeft} />;
    case "module":
      return <Module w={w} atLeft={atLeft} array={isArrayModule(piece, catalog)} />;
    case "panel":
      return <Panel w={w} />;
    case "outlet":
      return <Panel w={w} eight />;
    case "jack":
      return <Jack w={w} atLeft={atLeft} />;
    case "twisted":
      return <TwistedDrawing w={w} fixed={piece.fixed} />;
    case "assembly":
      return <AssemblyDrawing w={w} optical={piece.made === "active optical"} legs={piece.legs} />;
    case "splice":
      return <Splice w={w} crossed={piece.crossed ?? false} />;
    case "attenuator":
      return <Attenuator piece={piece} w={w} />;
    case "cord":
    case "run":
    case "pigtail":
      return <GlassDrawing piece={piece} w={w} color={jacketColor(piece.fiber, catalog)} />;
    case "trunk":
    case "array-cord":
      return <ArrayCable piece={piece} w={w} color={jacketColor(piece.fiber, catalog)} />;
    case "breakout":
      return <BreakoutDrawing piece={piece} w={w} color={jacketColor(piece.fiber, catalog)} />;
    case "cassette":
    case "conversion":
      return <CassetteDrawing piece={piece} w={w} />;
    default:
      return <Plain w={w} drawing={specOf(catalog, (piece as { kind: string }).kind)?.drawing} />;
  }
}

/** A kind that has no drawing of its own: a cable as a line, anything else as a box. */
const Plain = ({ w, drawing }: { w: number; drawing?: string }) =>
  drawing === "cable" ? (
    <path d={`M0 ${MIDDLE}H${w}`} stroke={INK} strokeWidth="5" />
  ) : (
    <rect x="2" y={MIDDLE - 14} width={w - 4} height="28" fill="var(--chakra-colors-bg-panel)" stroke={INK} />
  );

function Port({ w, atLeft }: { w: number; atLeft: boolean }) {
  const opening = atLeft ? w - 12 : 0;
  return (
    <>
      <rect x="2" y={MIDDLE - 32} width={w - 4} height="64" fill="var(--chakra-colors-bg-muted)" stroke={INK} />
      <rect x={opening} y={MIDDLE - 19} width="12" height="38" fill="var(--chakra-colors-bg)" stroke={INK} />
      {[0, 1, 2, 3].map((i) => (
        <path
          key={i}
          d={`M${atLeft ? 8 : w - 26} ${MIDDLE - 15 + i * 10}h18`}
          stroke={INK}
          strokeWidth="0.8"
          opacity="0.5"
        />
      ))}
    </>
  );
}

const isArrayModule = (piece: Extract<Element, { kind: "module" }>, catalog?: Catalog) =>
  Boolean(catalog?.applications.find((a) => a.name === piece.application)?.array);

function Module({ w, atLeft, array }: { w: number; atLeft: boolean; array: boolean }) {
  const bore = atLeft ? w - 9 : 1;
  return (
    <>
      <rect x="0" y={MIDDLE - 15} width={w} height="30" fill="var(--chakra-colors-bg-panel)" stroke={INK} />
      {array ? (
        <rect x={bore} y={MIDDLE - 10} width="8" height="20" fill={INK} />
      ) : (
        <>
          <rect x={bore} y={MIDDLE - 12} width="8" height="9" fill={INK} />
          <rect x={bore} y={MIDDLE + 3} width="8" height="9" fill={INK} />
        </>
      )}
      <path
        d={atLeft ? `M${w - 4} ${MIDDLE - 15}v-7h-14` : `M4 ${MIDDLE - 15}v-7h14`}
        fill="none"
        stroke={INK}
        strokeWidth="1.4"
      />
    </>
  );
}

function Panel({ w, eight = false }: { w: number; eight?: boolean }) {
  const middle = w / 2;
  const bricks = [8, 16, 24, 68, 76, 84];
  return (
    <>
      <rect x={middle - 5} y="2" width="10" height="88" fill="var(--chakra-colors-bg-muted)" stroke={INK} />
      {bricks.map((y) => (
        <path key={y} d={`M${middle - 5} ${y + 3}l10 -6`} stroke={INK} strokeWidth="0.7" />
      ))}
      <rect
        x={middle - 15}
        y={MIDDLE - 17}
        width="30"
        height="34"
        fill="var(--chakra-colors-bg-panel)"
        stroke={INK}
      />
      {eight ? (
        <Contacts x={middle - 8} y={MIDDLE - 6} />
      ) : (
        <path d={`M${middle} ${MIDDLE - 13}v26`} stroke={INK} strokeDasharray="2 2" />
      )}
    </>
  );
}

function Splice({ w, crossed }: { w: number; crossed: boolean }) {
  const lines = crossed
    ? `M0 ${MIDDLE - 3}L${w} ${MIDDLE + 3}M0 ${MIDDLE + 3}L${w} ${MIDDLE - 3}`
    : `M0 ${MIDDLE - 3}H${w}M0 ${MIDDLE + 3}H${w}`;
  return (
    <>
      <path d={lines} stroke={INK} strokeWidth="1" />
      <rect
        x="5"
        y={MIDDLE - 8}
        width={w - 10}
        height="16"
        rx="8"
        fill="var(--chakra-colors-bg-panel)"
        fillOpacity="0.6"
        stroke={INK}
      />
      <path d={`M${w / 2} ${MIDDLE - 8}v16`} stroke={INK} strokeWidth="1.6" />
    </>
  );
}

function Attenuator({ piece, w }: { piece: Extract<Element, { kind: "attenuator" }>; w: number }) {
  const plug = { shape: piece.shape, polish: piece.polish };
  const left = piece.plug_side !== "right";
  return (
    <>
      <rect
        x={left ? 16 : 2}
        y={MIDDLE - 16}
        width={w - 18}
        height="32"
        fill={PLUG_COLORS[piece.polish]}
        stroke={INK}
      />
      <path
        d={`M${left ? 20 : 6} ${MIDDLE - 8}l6 5v6l-6 5M${left ? 34 : 20} ${MIDDLE - 8}l-6 5v6l6 5`}
        fill="none"
        stroke={INK}
      />
      <PlugShape plug={plug} x={left ? 0 : w} points={left ? "left" : "right"} />
    </>
  );
}
