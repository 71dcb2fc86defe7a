import { Drawing, Spot } from "../draw/Drawing";
import type { TrunkSheet } from "../shared/api";
import { STRAND_COLORS, tracersOf } from "../shared/colors";

const INK = "var(--chakra-colors-fg)";
const STEP = 34;
const LEFT = 112;

/** A trunk as a strip: each fiber a column, its number at both ends, its color once, and what lights it below. */
export function TrunkStrip({ sheet }: { sheet: TrunkSheet }) {
  const width = LEFT + sheet.rows.length * STEP + 10;
  const words = (end: "near" | "far") => {
    const [key, pins] = end === "near" ? [sheet.near_key, sheet.near_pins] : [sheet.far_key, sheet.far_pins];
    return `${end} end, ${key}`.concat(`, ${pins === "unknown" ? "pins?" : pins}`);
  };
  return (
    <div style={{ overflowX: "auto" }}>
      <Drawing
        label={`${sheet.name}: ${sheet.rows.map((row) => `${row.near} to ${row.far}`).join(", ")}.`}
        width={width}
        height={104}
        scrolls
      >
        {(["near", "far"] as const).map((end, i) => {
          const [first, ...rest] = words(end).split(", ");
          return (
            <text key={end} x="0" y={i ? 72 : 20} fontSize="12" fill={INK}>
              <tspan x="0">{first}</tspan>
              <tspan x="0" dy="13">
                {rest.join(", ")}
              </tspan>
            </text>
          );
        })}
        {sheet.rows.map((row, i) => (
          <Fiber key={row.near} row={row} x={LEFT + i * STEP} />
        ))}
      </Drawing>
    </div>
  );
}

function Fiber({ row, x }: { row: TrunkSheet["rows"][number]; x: number }) {
  const { base, tracers } = tracersOf(row.color);
  const fill = STRAND_COLORS[base] ?? "none";
  return (
    <Spot words={`${row.near} ${row.color} to ${row.far}${row.link ? `, ${row.link}` : ", free"}`}>
      <text x={x + 8} y="16" fontSize="12" textAnchor="middle" fill={INK} className="figures">
        {row.near}
      </text>
      <rect x={x} y="22" width="16" height="40" fill={fill} stroke={INK} strokeWidth="0.8" />
      {tracers > 0 && <rect x={x} y="40" width="16" height="3" fill={INK} />}
      <text x={x + 8} y="78" fontSize="12" textAnchor="middle" fill={INK} className="figures">
        {row.far}
      </text>
      <text x={x + 8} y="96" fontSize="11" textAnchor="middle" fill={INK}>
        {row.link ? "used" : "free"}
      </text>
    </Spot>
  );
}
