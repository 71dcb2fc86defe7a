import type { DirectionReview } from "../shared/api";
import { figureText } from "../shared/format";

interface Props {
  direction: DirectionReview;
  x: number;
  side: "left" | "right";
  y: (dbm: number) => number;
  height: number;
}

/** The receiver's window at the end of the light: too bright, good, too dark, and the bar of what arrives. */
export function ReceiverWindow({ direction, x, side, y, height }: Props) {
  const { window: w } = direction;
  const inner = side === "right" ? x + 6 : x - 16;
  const text = side === "right" ? inner + 13 : x + 4;
  const high = y(w.overload_dbm);
  const low = y(w.sensitivity_dbm);
  const above = Math.max(high - 4, 26);
  const below = Math.min(low + 14, height - 18);
  return (
    <g data-testid="receiver-window">
      <defs>
        <pattern id="no-go" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0v5" stroke="var(--chakra-colors-fg)" strokeWidth="1.3" />
        </pattern>
      </defs>
      <rect x={inner} y="2" width="10" height={Math.max(0, high - 2)} fill="url(#no-go)" />
      <rect x={inner} y={low} width="10" height={Math.max(0, height - low - 2)} fill="url(#no-go)" />
      <rect
        x={inner}
        y={high}
        width="10"
        height={low - high}
        fill="var(--chakra-colors-bg-panel)"
        stroke="var(--chakra-colors-fg)"
      />
      <rect
        x={inner + 2.5}
        y={y(direction.arrives_max_dbm)}
        width="5"
        height={Math.max(2, y(direction.arrives_min_dbm) - y(direction.arrives_max_dbm))}
        fill="var(--chakra-colors-light)"
      />
      <g fontSize="11" fill="var(--chakra-colors-fg)">
        <text x={text} y={above - 13} fill="var(--chakra-colors-fg-muted)">
          too bright
        </text>
        <text x={text} y={above}>
          {figureText(w.overload_dbm, 1)}
        </text>
        <text x={text} y={(high + low) / 2 + 4} fill="var(--chakra-colors-fg-muted)">
          good
        </text>
        <text x={text} y={below}>
          {figureText(w.sensitivity_dbm, 1)}
        </text>
        <text x={text} y={below + 13} fill="var(--chakra-colors-fg-muted)">
          too dark
        </text>
      </g>
    </g>
  );
}
