import type { KeyboardEvent } from "react";

import type { FaceSeen, StrandTable } from "../../shared/api";
import { STRAND_COLORS, tracersOf } from "../../shared/colors";
import { GUTTER_LEFT } from "../layout";
import { colorAt, positionText } from "./cells";

export const ROW = 17;
const INK = "var(--chakra-colors-fg)";
const CHIP = { w: 19, h: 14 };

interface Props {
  lane: StrandTable["lanes"][number];
  faces: readonly FaceSeen[];
  xs: readonly (number | null)[];
  y: number;
  row: number;
  dim: boolean;
  focused: number | null;
  text: (column: number) => string;
  onFocus: (column: number) => void;
  onKey: (event: KeyboardEvent) => void;
  onSelect: (id: string) => void;
}

/** One lane: a line through the pieces, its position at each face, who sends and who listens at the ends. */
export function LaneRow({ lane, faces, xs, y, row, dim, focused, text, onFocus, onKey, onSelect }: Props) {
  const seen = xs.map((x, column) => ({ x, column, position: lane.positions[column] ?? null }));
  const known = seen.filter((one) => one.x !== null && one.position !== null);
  const right = lane.goes === "right";
  const first = xs[0] ?? GUTTER_LEFT;
  const last = xs.at(-1) ?? 0;
  const sends = `T${lane.number}`;
  const hears = lane.lights ? `R${lane.heard_as}` : "dark";
  return (
    <g opacity={dim ? 0.18 : 1}>
      {known.slice(1).map((here, i) => {
        const before = known[i]!;
        if (here.column !== before.column + 1) return null;
        return (
          <line
            key={here.column}
            x1={before.x!}
            x2={here.x!}
            y1={y}
            y2={y}
            stroke={INK}
            strokeWidth={lane.lights ? 1 : 0.8}
            strokeDasharray={lane.lights ? undefined : "3 2"}
          />
        );
      })}
      <text x={first - 14} y={y + 4} fontSize="11.5" textAnchor="end" fill={INK} className="figures">
        {right ? sends : hears}
      </text>
      <text x={last + 14} y={y + 4} fontSize="11.5" fill={INK} className="figures">
        {right ? hears : sends}
      </text>
      {!lane.lights && <Cross x={right ? last + 54 : first - 54} y={y} />}
      {seen.map(({ x, column, position }) => {
        const face = faces[column];
        if (x === null || !face) return null;
        return (
          <g
            key={column}
            role="button"
            tabIndex={focused === column && row >= 0 ? 0 : -1}
            aria-label={text(column)}
            data-cell={`${row}-${column}`}
            onFocus={() => onFocus(column)}
            onKeyDown={(event) => (event.key === "Enter" ? onSelect(face.element) : onKey(event))}
            onClick={() => onFocus(column)}
            style={{ cursor: "pointer", outline: "none" }}
          >
            <Chip x={x} y={y} face={face} position={position} focused={focused === column} />
          </g>
        );
      })}
    </g>
  );
}

function Chip({
  x,
  y,
  face,
  position,
  focused,
}: {
  x: number;
  y: number;
  face: FaceSeen;
  position: number | null;
  focused: boolean;
}) {
  const { base, tracers } = tracersOf(position === null ? "" : colorAt(face, position));
  const fill = STRAND_COLORS[base] ?? "var(--chakra-colors-bg)";
  const dark = ["blue", "green", "brown", "red", "black", "violet", "olive", "magenta", "slate"].includes(base);
  return (
    <>
      {focused && (
        <rect
          x={x - CHIP.w / 2 - 2.5}
          y={y - CHIP.h / 2 - 1.5}
          width={CHIP.w + 5}
          height={CHIP.h + 3}
          fill="none"
          stroke={INK}
          strokeWidth="2"
        />
      )}
      <rect
        x={x - CHIP.w / 2}
        y={y - CHIP.h / 2}
        width={CHIP.w}
        height={CHIP.h}
        fill={position === null ? "none" : fill}
        stroke={INK}
        strokeWidth="0.7"
        strokeDasharray={position === null ? "2 2" : undefined}
      />
      {tracers > 0 && <rect x={x - CHIP.w / 2} y={y + CHIP.h / 2 - 3} width={CHIP.w} height="2" fill={INK} />}
      <text
        x={x}
        y={y + 4}
        fontSize="11.5"
        textAnchor="middle"
        className="figures"
        fill={base ? (dark ? "#ffffff" : "#1d1d1b") : INK}
      >
        {position === null ? "" : positionText(face, position)}
      </text>
    </>
  );
}

const Cross = ({ x, y }: { x: number; y: number }) => (
  <path d={`M${x - 4} ${y - 4}l8 8M${x - 4} ${y + 4}l8 -8`} stroke={INK} strokeWidth="1.6" />
);
