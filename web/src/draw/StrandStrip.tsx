import { STRAND_COLORS, tracersOf } from "../shared/colors";
import { Drawing, INK, MUTED, PAPER, Spot } from "./Drawing";
import { Fitted } from "./Fitted";

/** One strand as it lies in its tube. */
export interface Strand {
  number: number;
  tube: number;
  tube_color: string;
  position: number;
  color: string;
  /** What it carries, empty where it is free. */
  carries: string;
  /** What is done with it here, where that is asked. */
  does?: string;
}

const GAP = 14;
const HEAD = 34;
const HIGH = 58;
/** The least width of a strand that can be pressed and told from its neighbor. */
const LEAST = 20;
const WIDEST = 34;

const groups = (strands: readonly Strand[]): [number, Strand[]][] => {
  const found = new Map<number, Strand[]>();
  for (const one of strands) found.set(one.tube, [...(found.get(one.tube) ?? []), one]);
  return [...found];
};

/** The strands of a cable as a strip, tube by tube, each in its color with its number; what carries stands out. */
export function StrandStrip({ name, strands, group }: { name: string; strands: readonly Strand[]; group: string }) {
  const tubes = groups(strands);
  return (
    <Fitted most={1180} height={HEAD + HIGH}>
      {(width) => {
        const most = Math.max(...tubes.map(([, inside]) => inside.length), 1);
        const side = Math.min(WIDEST, Math.max(LEAST, (width - 2 * GAP) / most));
        const rows: [number, Strand[]][][] = [];
        let room = 0;
        for (const tube of tubes) {
          const wide = tube[1].length * side + GAP;
          if (rows.length === 0 || room + wide > width) {
            rows.push([]);
            room = 0;
          }
          rows.at(-1)?.push(tube);
          room += wide;
        }
        const wide = Math.max(
          ...rows.map((row) => row.reduce((sum, [, inside]) => sum + inside.length * side + GAP, 0)),
        );
        const high = HEAD + HIGH;
        const free = strands.filter((one) => !one.carries).length;
        return (
          <Drawing
            label={`${name}: ${strands.length} strands, ${strands.length - free} carry something, ${free} are free.`}
            width={Math.min(width, Math.ceil(wide) + 2)}
            height={rows.length * high}
            testid="strand-strip"
          >
            {rows.map((row, r) => {
              let x = 2;
              return row.map(([tube, inside]) => {
                const from = x;
                x += inside.length * side + GAP;
                return <Tube key={tube} strands={inside} group={group} x={from} y={r * high} side={side} />;
              });
            })}
          </Drawing>
        );
      }}
    </Fitted>
  );
}

interface TubeProps {
  strands: readonly Strand[];
  group: string;
  x: number;
  y: number;
  side: number;
}

function Tube({ strands, group, x, y, side }: TubeProps) {
  const [first] = strands;
  if (!first) return null;
  const wide = strands.length * side;
  const { base, tracers } = tracersOf(first.tube_color);
  const named = `${group} ${first.tube}${first.tube_color ? `, ${first.tube_color}` : ""}`;
  return (
    <g>
      <text x={x} y={y + 12} fontSize="11">
        {wide > 70 ? named : first.tube}
      </text>
      <rect
        x={x}
        y={y + 17}
        width={wide - 2}
        height="7"
        fill={base ? (STRAND_COLORS[base] ?? "none") : "none"}
        stroke={INK}
        strokeWidth="0.8"
        strokeDasharray={tracers ? "3 2" : undefined}
      />
      {strands.map((strand, i) => (
        <OneStrand key={strand.number} strand={strand} x={x + i * side} y={y + HEAD - 5} side={side - 3} />
      ))}
    </g>
  );
}

function OneStrand({ strand, x, y, side }: { strand: Strand; x: number; y: number; side: number }) {
  const { base, tracers } = tracersOf(strand.color);
  const told = [strand.color, strand.carries || "free", strand.does ?? ""].filter(Boolean).join(", ");
  const dead = strand.carries === "dead";
  const through = strand.does?.startsWith("passes");
  return (
    <Spot words={`Strand ${strand.number}: ${told}`}>
      <rect x={x} y={y} width={side} height="26" fill={PAPER} stroke={MUTED} strokeWidth="0.8" />
      <rect
        x={x}
        y={y}
        width={side}
        height="14"
        fill={STRAND_COLORS[base] ?? "none"}
        stroke={INK}
        strokeWidth="0.8"
      />
      {Array.from({ length: tracers }, (_, i) => (
        <rect
          key={i}
          x={x + (side * (i + 1)) / (tracers + 1) - 1}
          y={y}
          width="2"
          height="14"
          fill={base === "black" ? "#e3bd1b" : "#1d1d1b"}
        />
      ))}
      {strand.carries && !dead && <rect x={x} y={y + 15} width={side} height="11" fill={INK} />}
      {dead && (
        <path d={`M${x} ${y + 15}l${side} 11M${x + side} ${y + 15}l${-side} 11`} stroke={INK} strokeWidth="1.4" />
      )}
      {strand.does && !through && <path d={`M${x + side / 2 - 4} ${y + 28}h8l-4 6z`} fill={INK} />}
      <text x={x + side / 2} y={y + (strand.does ? 45 : 38)} textAnchor="middle" fontSize="10" className="figures">
        {strand.number}
      </text>
    </Spot>
  );
}
