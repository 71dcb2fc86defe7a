import { STRAND_COLORS, tracersOf } from "../shared/colors";

/** A strand's or tube's color, with its number and name; a tracer is a stripe across it. */
export function Swatch({ number, color }: { number: number; color: string }) {
  const { base, tracers } = tracersOf(color);
  const ink = base === "black" ? "#e3bd1b" : "#1d1d1b";
  return (
    <span style={{ display: "inline-flex", gap: 8, alignItems: "center" }}>
      <span className="figures">{number}</span>
      {base && (
        <svg width="14" height="14" aria-hidden="true" style={{ border: "1px solid var(--chakra-colors-fg)" }}>
          <rect width="14" height="14" fill={STRAND_COLORS[base] ?? "none"} />
          {Array.from({ length: tracers }, (_, i) => (
            <rect key={i} x={(14 * (i + 1)) / (tracers + 1) - 1} width="2" height="14" fill={ink} />
          ))}
        </svg>
      )}
      {color}
    </span>
  );
}
