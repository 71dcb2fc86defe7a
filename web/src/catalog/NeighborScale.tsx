import type { FigureLine } from "../shared/api";
import { neighborsOf } from "./neighbors";

const WIDTH = 150;
const EDGE = 8;

const said = (value: number) => String(Number(value.toFixed(4))).replace("-", "−");

/** A figure beside its neighbors: a tick for each of them between the lowest and the highest, a disc for this one. */
export function NeighborScale({ line, all }: { line: FigureLine; all: readonly FigureLine[] }) {
  const found = neighborsOf(line, all);
  if (!found) return <span aria-hidden />;
  const x = (value: number) => EDGE + found.at(value) * (WIDTH - 2 * EDGE);
  const rank = found.others.filter((one) => one.value < line.value).length;
  const words = `${said(line.value)} ${line.unit} among ${found.others.length + 1} records from ${said(found.low)} to ${said(found.high)}; ${rank} are lower`;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} 30`}
      width="100%"
      style={{ maxWidth: WIDTH, display: "block" }}
      role="img"
      aria-label={words}
    >
      <title>{words}</title>
      <path d={`M${EDGE} 10H${WIDTH - EDGE}`} stroke="var(--chakra-colors-border-emphasized)" />
      {found.others.map((one) => (
        <path key={one.name} d={`M${x(one.value)} 5v10`} stroke="var(--chakra-colors-fg-muted)" />
      ))}
      <circle cx={x(line.value)} cy="10" r="5" fill="var(--chakra-colors-fg)" />
      <g fontSize="9.5" fill="var(--chakra-colors-fg-muted)" className="figures" aria-hidden>
        <text x="2" y="27">
          {said(found.low)}
        </text>
        <text x={WIDTH - 2} y="27" textAnchor="end">
          {said(found.high)}
        </text>
      </g>
    </svg>
  );
}
