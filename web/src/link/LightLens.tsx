import { Box } from "@chakra-ui/react";

import type { DirectionReview } from "../shared/api";
import { figureText } from "../shared/format";
import { GUTTER_LEFT, type Place } from "./layout";
import { ReceiverWindow } from "./ReceiverWindow";
import { powerScale } from "./scale";

export const LENS_HEIGHT = 250;

interface Props {
  direction: DirectionReview;
  places: readonly Place[];
  glass: ReadonlySet<string>;
  width: number;
  selected: string | null;
  complete: boolean;
}

/** Optical power under the pieces, as a band from the strongest to the weakest case, to the receiver's window. */
export function LightLens({ direction, places, glass, width, selected, complete }: Props) {
  const scale = powerScale(direction, LENS_HEIGHT);
  const rightwards = direction.direction === "right";
  const at = new Map(places.map((place) => [place.id, place]));
  const corners = direction.points.flatMap((point) => {
    const place = at.get(point.element);
    if (!place) return [];
    const [enter, leave] = rightwards ? [place.x, place.x + place.w] : [place.x + place.w, place.x];
    const before = { high: scale.y(point.in_max_dbm), low: scale.y(point.in_min_dbm) };
    const after = { high: scale.y(point.out_max_dbm), low: scale.y(point.out_min_dbm) };
    const middle = place.x + place.w / 2;
    // Glass loses along its length; a joint or an attenuator loses at one place.
    const step = glass.has(point.element)
      ? []
      : [
          { x: middle, ...before },
          { x: middle, ...after },
        ];
    return [{ x: enter, ...before }, ...step, { x: leave, ...after }];
  });
  const line = (key: "high" | "low") => corners.map((c) => `${c.x},${c[key]}`).join(" ");
  const band = `${line("high")} ${corners
    .toReversed()
    .map((c) => `${c.x},${c.low}`)
    .join(" ")}`;
  const chosen = selected ? at.get(selected) : undefined;
  const end = places.at(-1);
  const x = rightwards ? (end ? end.x + end.w : width) : GUTTER_LEFT;
  return (
    <Box position="relative" data-testid="light-lens">
      <svg width={width} height={LENS_HEIGHT} role="img" aria-label={description(direction)}>
        {chosen && (
          <rect x={chosen.x} y="0" width={chosen.w} height={LENS_HEIGHT} fill="var(--chakra-colors-bg-muted)" />
        )}
        <Axis ticks={scale.ticks} y={scale.y} x2={end ? end.x + end.w : width} />
        <polygon points={band} fill="var(--chakra-colors-light-soft)" data-testid="light-band" />
        <polyline points={line("high")} fill="none" stroke="var(--chakra-colors-light)" strokeWidth="1.6" />
        <polyline
          points={line("low")}
          fill="none"
          stroke="var(--chakra-colors-light)"
          strokeWidth="1.6"
          strokeDasharray={complete ? undefined : "4 3"}
        />
        <Steps direction={direction} places={at} y={scale.y} />
        <ReceiverWindow
          direction={direction}
          x={x}
          side={rightwards ? "right" : "left"}
          y={scale.y}
          height={LENS_HEIGHT}
        />
      </svg>
    </Box>
  );
}

function description(d: DirectionReview): string {
  return `Light going ${d.direction}: arrives between ${figureText(d.arrives_min_dbm, 1)} and ${figureText(d.arrives_max_dbm, 1)} dBm; the receiver needs ${figureText(d.window.sensitivity_dbm, 1)} and takes ${figureText(d.window.overload_dbm, 1)} dBm`;
}

function Axis({ ticks, y, x2 }: { ticks: number[]; y: (dbm: number) => number; x2: number }) {
  return (
    <g fontSize="11" fill="var(--chakra-colors-fg-muted)" style={{ fontVariantNumeric: "tabular-nums" }}>
      {ticks.map((tick) => (
        <g key={tick}>
          <path d={`M${GUTTER_LEFT - 6} ${y(tick)}H${x2}`} stroke="var(--chakra-colors-border)" strokeWidth="0.7" />
          <text x={GUTTER_LEFT - 10} y={y(tick) + 3.5} textAnchor="end">
            {figureText(tick, 0)}
          </text>
        </g>
      ))}
      <text x="2" y="12">
        dBm
      </text>
    </g>
  );
}

/** The step under a piece is its loss: worst and least, written where there is room. */
function Steps({
  direction,
  places,
  y,
}: {
  direction: DirectionReview;
  places: Map<string, Place>;
  y: (dbm: number) => number;
}) {
  return (
    <g fontSize="11" fill="var(--chakra-colors-fg)" textAnchor="middle">
      {direction.points.map((point) => {
        const place = places.get(point.element);
        const worst = point.in_min_dbm - point.out_min_dbm;
        if (!place || worst < 0.005) return null;
        return (
          <text
            key={point.element}
            x={place.x + place.w / 2}
            y={Math.min(y(point.out_min_dbm) + 15, LENS_HEIGHT - 4)}
          >
            {figureText(worst)}
          </text>
        );
      })}
    </g>
  );
}
