import type { Severity, Verdict } from "./api";

/** A disc that is full (pass), half (marginal), open (unknown), crossed (fail), broken (damage). */
export function VerdictMark({ verdict, size = 14 }: { verdict: Verdict; size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 16 16"
      role="img"
      aria-label={verdict}
      style={{ flexShrink: 0, display: "inline-block", verticalAlign: "-1px" }}
    >
      {SHAPES[verdict]}
    </svg>
  );
}

const ring = <circle cx="8" cy="8" r="6.2" fill="none" stroke="currentColor" strokeWidth="1.6" />;

const SHAPES: Record<Verdict, React.ReactNode> = {
  pass: <circle cx="8" cy="8" r="7" fill="currentColor" />,
  marginal: (
    <>
      {ring}
      <path d="M8 1.8a6.2 6.2 0 0 0 0 12.4z" fill="currentColor" />
    </>
  ),
  unknown: ring,
  fail: (
    <>
      {ring}
      <path d="M4.6 4.6l6.8 6.8M11.4 4.6l-6.8 6.8" stroke="currentColor" strokeWidth="1.8" />
    </>
  ),
  damage: (
    <g fill="currentColor">
      <path d="M8.6.9A7 7 0 0 0 4 13.4l2.6-4-2-1.6z" />
      <path d="M11.4 2.4A7 7 0 0 1 7.2 15l2.6-5.6-2-1.6z" />
    </g>
  ),
};

/** The mark of a finding: the verdict that it leads to. */
export const severityVerdict: Record<Severity, Verdict> = {
  damage: "damage",
  fail: "fail",
  caution: "marginal",
  note: "unknown",
};
