import { Box, Text } from "@chakra-ui/react";

import type { FaceSeen, StrandTable } from "../../shared/api";
import { STRAND_COLORS, tracersOf } from "../../shared/colors";
import { colorAt, positionText } from "./cells";

const INK = "var(--chakra-colors-fg)";
const STEP = 26;
const LINE = 54;

interface Props {
  face: FaceSeen;
  name: string;
  lanes: readonly { lane: StrandTable["lanes"][number]; position: number | null }[];
  chosen: number | null;
}

/** A face as a scope shows it, its key up: where position 1 is, what is empty, pins or holes, what sends there. */
export function FaceFront({ face, name, lanes, chosen }: Props) {
  const plug = face.columns * STEP;
  const width = face.plugs * (plug + 70) + 20;
  const height = face.rows * LINE + 40;
  const marks = new Map<number, string>();
  for (const { lane, position } of lanes)
    if (position !== null) marks.set(position, [marks.get(position), marked(lane, face)].filter(Boolean).join(" "));
  return (
    <Box mt={2} overflowX="auto">
      <Text fontSize="12.5px">
        <b>{name}</b>
        {face.element ? `, ${face.side} face` : ""} from the front, key up: {faceText(face)}
      </Text>
      <svg width={width} height={height} role="img" aria-label={`${name}, ${face.side} face: ${faceText(face)}`}>
        {Array.from({ length: face.plugs }, (_, n) => (
          <g key={n} transform={`translate(${n * (plug + 70) + 4} 0)`}>
            <rect x="0" y="14" width={plug + 56} height={face.rows * LINE + 8} fill="none" stroke={INK} rx="3" />
            <rect x={keyX(face, plug)} y="6" width="26" height="8" fill={INK} />
            {[14, plug + 42].map((x) => (
              <Guide key={x} x={x} y={18 + (face.rows * LINE) / 2} pins={face.pins} />
            ))}
            {Array.from({ length: face.rows * face.columns }, (_, i) => {
              const position = n * face.rows * face.columns + i + 1;
              return (
                <Hole
                  key={position}
                  x={28 + (i % face.columns) * STEP + STEP / 2}
                  y={26 + Math.floor(i / face.columns) * LINE}
                  face={face}
                  position={position}
                  chosen={position === chosen}
                  mark={marks.get(position) ?? ""}
                />
              );
            })}
          </g>
        ))}
      </svg>
    </Box>
  );
}

/** The key of a row of sixteen stands beside the middle. */
const keyX = (face: FaceSeen, plug: number) => (face.shape === "MPO-16" ? plug * 0.62 : plug / 2 + 15);

/** What the light does at a position: it sends, or it listens, as lane. */
function marked(lane: StrandTable["lanes"][number], face: FaceSeen): string {
  if (face.element === lane.sender) return `T${lane.number}`;
  if (face.element === lane.receiver) return lane.lights ? `R${lane.heard_as}` : "✕";
  return String(lane.number);
}

function faceText(face: FaceSeen): string {
  const rows = `${face.rows} row${face.rows > 1 ? "s" : ""} of ${face.columns}`;
  const plugs = face.plugs > 1 ? `${face.plugs} plugs with ${rows}` : rows;
  const pins = face.pins === null ? (face.colors.length ? "pins not known" : "") : face.pins ? "pins" : "holes";
  return [`${face.shape}/${face.polish}`, face.colors.length ? plugs : "a pair, A and B", pins]
    .filter(Boolean)
    .join(", ");
}

function Guide({ x, y, pins }: { x: number; y: number; pins: boolean | null }) {
  if (pins === null) return null;
  return <circle cx={x} cy={y} r="5" fill={pins ? INK : "none"} stroke={INK} strokeWidth="1.4" />;
}

function Hole({
  x,
  y,
  face,
  position,
  chosen,
  mark,
}: {
  x: number;
  y: number;
  face: FaceSeen;
  position: number;
  chosen: boolean;
  mark: string;
}) {
  const { base } = tracersOf(colorAt(face, position));
  const filled = face.filled.includes(position);
  return (
    <>
      <circle
        cx={x}
        cy={y}
        r="7"
        fill={filled ? (STRAND_COLORS[base] ?? "var(--chakra-colors-bg)") : "none"}
        stroke={INK}
        strokeWidth={chosen ? 2.6 : 0.8}
        strokeDasharray={filled ? undefined : "2 2"}
      />
      <text x={x} y={y + 18} fontSize="10.5" textAnchor="middle" fill={INK} className="figures">
        {positionText(face, position)}
      </text>
      {mark.split(" ").map((one, line) => (
        <text
          key={one}
          x={x}
          y={y + 29 + line * 11}
          fontSize="10.5"
          fontWeight="700"
          textAnchor="middle"
          fill={INK}
          className="figures"
        >
          {one}
        </text>
      ))}
    </>
  );
}
