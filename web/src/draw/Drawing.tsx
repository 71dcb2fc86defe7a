import type { KeyboardEvent, ReactNode } from "react";

import type { LengthScale } from "./scale";

const STEPS: Record<string, number> = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };

/** Moves the focus from spot to spot of what the keys are pressed in; Home and End go to its ends. */
export function walk(event: KeyboardEvent<Element>) {
  const spots = [...event.currentTarget.querySelectorAll<SVGElement | HTMLElement>("[data-spot]")];
  const at = spots.indexOf(document.activeElement as HTMLElement);
  const step = STEPS[event.key];
  const to = event.key === "Home" ? 0 : event.key === "End" ? spots.length - 1 : step ? at + step : -1;
  const next = step && at < 0 ? spots[0] : spots[to];
  if (!next || !(step || event.key === "Home" || event.key === "End")) return;
  next.focus();
  event.preventDefault();
}

interface Props {
  /** What is drawn, in a sentence: it is spoken when the drawing is reached. */
  label: string;
  width: number;
  height: number;
  children: ReactNode;
  testid?: string;
  /** It stands in a box that scrolls, and keeps its size. */
  scrolls?: boolean;
}

/** A drawing that is reached by Tab and walked with the arrow keys; each of its spots speaks what it shows. */
export function Drawing({ label, width, height, children, testid, scrolls = false }: Props) {
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      role="group"
      aria-label={`${label} Arrow keys walk it.`}
      tabIndex={0}
      onKeyDown={walk}
      data-testid={testid}
      data-drawing=""
      style={{ display: "block", maxWidth: scrolls ? undefined : "100%", fontSize: 12 }}
      fill="var(--chakra-colors-fg)"
    >
      {children}
    </svg>
  );
}

/** A place in a drawing with the words for it: spoken when it is walked to, shown when it is pointed at. */
export function Spot({ words, children, strong }: { words: string; children: ReactNode; strong?: boolean }) {
  return (
    <g role="img" tabIndex={-1} data-spot="" aria-label={words} fontWeight={strong ? 600 : undefined}>
      <title>{words}</title>
      {children}
    </g>
  );
}

export const INK = "var(--chakra-colors-fg)";
export const MUTED = "var(--chakra-colors-fg-muted)";
export const LINE = "var(--chakra-colors-border-emphasized)";
export const FAINT = "var(--chakra-colors-border)";
export const SHADE = "var(--chakra-colors-bg-muted)";
export const PAPER = "var(--chakra-colors-bg-panel)";

/** The cross that stands where something does not hold. */
export function Cross({ x, y, size = 5 }: { x: number; y: number; size?: number }) {
  return (
    <path
      d={`M${x - size} ${y - size}l${2 * size} ${2 * size}m0 ${-2 * size}l${-2 * size} ${2 * size}`}
      stroke={INK}
      strokeWidth="2"
      fill="none"
    />
  );
}

/** The lengths of a scale along its foot, each with a faint line up through the drawing. */
export function Foot({ scale, y, top }: { scale: LengthScale; y: number; top: number }) {
  return (
    <g aria-hidden className="figures">
      {scale.ticks.map((tick) => (
        <g key={tick.m}>
          <path d={`M${scale.at(tick.m)} ${top}V${y - 12}`} stroke={FAINT} />
          <text x={scale.at(tick.m)} y={y} textAnchor="middle" fontSize="10.5" fill={MUTED}>
            {tick.words}
          </text>
        </g>
      ))}
    </g>
  );
}

/** The values of a scale up its side. */
export function Side({
  ticks,
  at,
  x,
  words,
}: {
  ticks: readonly number[];
  at: (value: number) => number;
  x: number;
  words: (value: number) => string;
}) {
  return (
    <g aria-hidden className="figures">
      {ticks.map((tick) => (
        <text key={tick} x={x} y={at(tick) + 4} textAnchor="end" fontSize="10.5" fill={MUTED}>
          {words(tick)}
        </text>
      ))}
    </g>
  );
}
