import { type KeyboardEvent, useState } from "react";

import type { TraceView, TracedJoint } from "../shared/api";
import { lengthText } from "../shared/format";
import { useSettings } from "../shared/settings";
import type { Place } from "../link/layout";
import { type Window, traceScale, zoomed } from "./traceScale";

const HEIGHT = 210;
const MARKS = 26;
const BAD: readonly string[] = [
  "too much loss",
  "reflects too much",
  "apparent gain",
  "not in the plan",
  "ends early",
  "missing",
];

interface Props {
  view: TraceView;
  places: readonly Place[];
  width: number;
  held: TracedJoint | null;
  onHold: (joint: TracedJoint) => void;
}

/** The trace under its pieces: expected in gray, measured in the hue of light; + and − zoom, arrows move, 0 shows all. */
export function TraceDrawing({ view, places, width, held, onHold }: Props) {
  const { unit } = useSettings();
  const [window, setWindow] = useState<Window>(null);
  const scale = traceScale(view, places, width, HEIGHT, window);
  const line = (points: readonly (readonly number[])[]) =>
    points
      .filter(([m]) => m! >= scale.from_m && m! <= scale.to_m * 1.02)
      .map(([m, db]) => `${scale.x(m!).toFixed(1)},${scale.y(db!).toFixed(1)}`)
      .join(" ");
  const joints = (view.judged?.joints ?? []).map((joint) => ({ joint, m: joint.at_m ?? joint.planned_m ?? 0 }));
  function key(event: KeyboardEvent) {
    const span = scale.to_m - scale.from_m;
    const at = held ? (held.at_m ?? held.planned_m ?? undefined) : undefined;
    const next: Record<string, Window | undefined> = {
      "+": zoomed(view, window, 0.5, at),
      "=": zoomed(view, window, 0.5, at),
      "-": zoomed(view, window, 2),
      "0": null,
      ArrowLeft: window ? zoomed(view, window, 1, (scale.from_m + scale.to_m) / 2 - span / 4) : null,
      ArrowRight: window ? zoomed(view, window, 1, (scale.from_m + scale.to_m) / 2 + span / 4) : null,
    };
    if (!(event.key in next)) return;
    event.preventDefault();
    setWindow(next[event.key] ?? null);
  }
  return (
    <svg
      width={width}
      height={HEIGHT + MARKS}
      role="group"
      aria-label={`Trace at ${view.wavelength_nm} nm, pulse ${view.pulse.pulse_ns} ns; plus and minus zoom, arrows move, 0 shows all`}
      tabIndex={0}
      onKeyDown={key}
      data-testid="trace"
      data-from={scale.from_m.toFixed(0)}
      data-to={scale.to_m.toFixed(0)}
      style={{ display: "block" }}
    >
      <rect x="0" y="0" width={width} height={HEIGHT} fill="none" />
      {view.pieces.map((piece) => (
        <line
          key={piece.element}
          x1={scale.x(piece.to_m)}
          x2={scale.x(piece.to_m)}
          y1="0"
          y2={HEIGHT}
          stroke="var(--chakra-colors-border)"
          strokeDasharray="2 3"
        />
      ))}
      <polyline
        points={line(view.expected)}
        fill="none"
        stroke="var(--chakra-colors-fg-subtle)"
        strokeWidth="1.2"
      />
      {view.measured && view.measured.length > 0 && (
        <polyline
          points={line(view.measured)}
          fill="none"
          stroke="var(--chakra-colors-light)"
          strokeWidth="1.4"
          data-testid="measured"
        />
      )}
      {joints
        .filter(({ m }) => m >= scale.from_m && m <= scale.to_m)
        .map(({ joint, m }, i) => (
          <Mark key={i} x={scale.x(m)} joint={joint} held={held === joint} onHold={() => onHold(joint)} />
        ))}
      {window && (
        <g fontSize="11" fill="var(--chakra-colors-fg-muted)" className="figures">
          <text x="4" y={HEIGHT - 4}>
            {lengthText(scale.from_m, unit)}
          </text>
          <text x={width - 4} y={HEIGHT - 4} textAnchor="end">
            {lengthText(scale.to_m, unit)}
          </text>
        </g>
      )}
    </svg>
  );
}

/** A joint on the trace: full where it is good, open where it is hidden, crossed where something is wrong. */
function Mark({ x, joint, held, onHold }: { x: number; joint: TracedJoint; held: boolean; onHold: () => void }) {
  const bad = BAD.includes(joint.verdict);
  const y = HEIGHT + 12;
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={`${joint.element || "no piece"}: ${joint.verdict}`}
      aria-pressed={held}
      onClick={onHold}
      onKeyDown={(event) => event.key === "Enter" && onHold()}
      style={{ cursor: "pointer" }}
      data-joint={joint.element || "extra"}
    >
      <line x1={x} x2={x} y1="0" y2={HEIGHT} stroke="var(--chakra-colors-fg)" strokeWidth={held ? 1.5 : 0.5} />
      <rect x={x - 14} y={HEIGHT} width="28" height={MARKS} fill="transparent" />
      <circle
        cx={x}
        cy={y}
        r="6"
        fill={joint.verdict === "good" ? "var(--chakra-colors-fg)" : "var(--chakra-colors-bg)"}
        stroke="var(--chakra-colors-fg)"
      />
      {bad && <path d={`M${x - 3} ${y - 3}l6 6m0 -6l-6 6`} stroke="var(--chakra-colors-fg)" strokeWidth="1.6" />}
    </g>
  );
}
