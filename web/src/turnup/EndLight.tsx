import type { LaneStands, Window } from "../shared/api";
import { figureText } from "../shared/format";
import { LABELS, type PowerScale } from "./scale";

const ROW = 24;

/** Light at an end: the window of what is sent and received as bands on one scale, what was read as marks. */
export function EndLight({ windows, lanes, scale }: { windows: Window[]; lanes: LaneStands[]; scale: PowerScale }) {
  const sent = windows.find((one) => one.quantity === "tx power");
  const received = windows.find((one) => one.quantity === "rx power");
  const rows = lanes.length ? lanes.map((one) => one.lane) : [1];
  return (
    <svg
      width={scale.width}
      height={rows.length * 2 * ROW + 18}
      role="img"
      aria-label={told(windows, lanes)}
      style={{ display: "block" }}
    >
      {rows.map((lane, i) => {
        const at = lanes.find((one) => one.lane === lane);
        return (
          <g key={lane}>
            <Band window={sent} y={i * 2 * ROW} scale={scale} />
            <Mark dbm={at?.tx_dbm} stand={at?.tx} y={i * 2 * ROW} scale={scale} words="sent" />
            <Band window={received} y={(i * 2 + 1) * ROW} scale={scale} />
            <Mark dbm={at?.rx_dbm} stand={at?.rx} y={(i * 2 + 1) * ROW} scale={scale} words="received" />
          </g>
        );
      })}
      <Ticks scale={scale} y={rows.length * 2 * ROW + 13} />
      <text x={0} y={rows.length * 2 * ROW + 13} fontSize="10" fill="var(--chakra-colors-fg-muted)" aria-hidden>
        dBm
      </text>
    </svg>
  );
}

function Band({ window, y, scale }: { window: Window | undefined; y: number; scale: PowerScale }) {
  const middle = y + ROW / 2;
  const { x } = scale;
  const low = window?.low_dbm;
  const high = window?.high_dbm;
  return (
    <>
      <line x1={x(scale.low)} x2={x(scale.high)} y1={middle} y2={middle} stroke="var(--chakra-colors-border)" />
      {low != null && high != null && (
        <rect
          x={x(low)}
          width={Math.max(2, x(high) - x(low))}
          y={middle - 7}
          height={14}
          fill="var(--chakra-colors-light-soft)"
        />
      )}
      {window?.planned_low_dbm != null && window.planned_high_dbm != null && (
        <rect
          x={x(window.planned_low_dbm)}
          width={Math.max(2, x(window.planned_high_dbm) - x(window.planned_low_dbm))}
          y={middle - 7}
          height={14}
          fill="none"
          stroke="var(--chakra-colors-light)"
        />
      )}
      {[window?.needs_dbm, window?.takes_dbm].map(
        (limit, i) =>
          limit != null && (
            <path
              key={i}
              d={`M${x(limit)} ${middle - 10}v20m0 0h${i ? 5 : -5}m${i ? -5 : 5} -20h${i ? 5 : -5}`}
              stroke="var(--chakra-colors-fg)"
              fill="none"
            />
          ),
      )}
    </>
  );
}

interface MarkProps {
  dbm: number | null | undefined;
  stand: string | undefined;
  y: number;
  scale: PowerScale;
  words: string;
}

function Mark({ dbm, stand, y, scale, words }: MarkProps) {
  const middle = y + ROW / 2;
  const wrong = stand === "low" || stand === "above" || stand === "high" || stand === "damage";
  const said =
    stand === "dark" ? "no light" : dbm == null ? "not read" : `${figureText(dbm, 1)}${wrong ? ` ${stand}` : ""}`;
  const at = stand === "dark" ? scale.x(scale.low) : dbm == null ? null : scale.x(dbm);
  return (
    <g>
      <text x={0} y={middle + 4} fontSize="12" fill="var(--chakra-colors-fg)">
        {words}
      </text>
      <text
        x={LABELS}
        y={middle + 4}
        fontSize="12"
        textAnchor="end"
        fill="var(--chakra-colors-fg)"
        className="figures"
      >
        {said}
      </text>
      {at !== null && (wrong || stand === "dark") && (
        <path d={`M${at - 5} ${middle - 5}l10 10m0 -10l-10 10`} stroke="var(--chakra-colors-fg)" strokeWidth="2" />
      )}
      {at !== null && !wrong && stand !== "dark" && (
        <circle
          cx={at}
          cy={middle}
          r="5"
          fill={stand === "normal" ? "var(--chakra-colors-fg)" : "none"}
          stroke="var(--chakra-colors-fg)"
          strokeWidth="1.6"
        />
      )}
    </g>
  );
}

function Ticks({ scale, y }: { scale: PowerScale; y: number }) {
  return (
    <g aria-hidden>
      {scale.ticks.map((tick) => (
        <text
          key={tick}
          x={scale.x(tick)}
          y={y}
          fontSize="10"
          textAnchor="middle"
          fill="var(--chakra-colors-fg-muted)"
          className="figures"
        >
          {tick < 0 ? `−${-tick}` : tick}
        </text>
      ))}
    </g>
  );
}

function told(windows: readonly Window[], lanes: readonly LaneStands[]): string {
  const window = (quantity: string) => {
    const found = windows.find((one) => one.quantity === quantity);
    if (found?.low_dbm == null || found.high_dbm == null) return "no window";
    return `window ${figureText(found.low_dbm, 1)} to ${figureText(found.high_dbm, 1)} dBm`;
  };
  const read = lanes.map(
    (one) =>
      `lane ${one.lane}: sends ${one.tx_dbm ?? one.tx}, received ${one.rx_dbm ?? one.rx}${one.rx === "normal" ? ", in the window" : ""}`,
  );
  return `Sent: ${window("tx power")}. Received: ${window("rx power")}. ${read.join("; ") || "Nothing was read."}`;
}
