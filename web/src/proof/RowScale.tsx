import type { ProofRow } from "../shared/api";
import { figureText } from "../shared/format";
import type { LossScale } from "./bands";

const HEIGHT = 26;
const MIDDLE = HEIGHT / 2;

/** A reading beside its limit: the band of what it should be, a line for each limit, the reading with its spread. */
export function RowScale({ row, scale }: { row: ProofRow; scale: LossScale }) {
  const { should, reading } = row;
  const { x } = scale;
  const off = reading?.uncertainty_db ?? should.uncertainty_db;
  const bad = row.judgement === "fail" || row.judgement === "dark" || row.judgement === "suspect";
  return (
    <svg width={scale.width} height={HEIGHT} role="img" aria-label={told(row)} style={{ display: "block" }}>
      <line x1={x(0)} x2={scale.width} y1={MIDDLE} y2={MIDDLE} stroke="var(--chakra-colors-border)" />
      <rect
        x={x(should.least_db)}
        width={Math.max(1, x(should.limit_db) - x(should.least_db))}
        y={MIDDLE - 5}
        height={10}
        fill="var(--chakra-colors-bg-muted)"
      />
      <line
        x1={x(should.expected_db)}
        x2={x(should.expected_db)}
        y1={MIDDLE - 5}
        y2={MIDDLE + 5}
        stroke="var(--chakra-colors-fg-subtle)"
        strokeDasharray="2 2"
      />
      <path
        d={`M${x(should.limit_db)} 3V${HEIGHT - 3}`}
        stroke="var(--chakra-colors-fg)"
        strokeWidth="2"
        data-testid="limit-mark"
      />
      {should.application_db != null && should.application_db < should.limit_db && (
        <path
          d={`M${x(should.application_db)} 3V${HEIGHT - 3}m-3 0h6m-3 ${6 - HEIGHT}m-3 0h6`}
          stroke="var(--chakra-colors-fg)"
          fill="none"
        />
      )}
      {reading && (
        <g opacity={row.informs ? 0.45 : 1}>
          <line
            x1={x(reading.value_db - off)}
            x2={x(reading.value_db + off)}
            y1={MIDDLE}
            y2={MIDDLE}
            stroke="var(--chakra-colors-fg)"
            strokeWidth="2"
          />
          {bad ? (
            <path
              d={`M${x(reading.value_db) - 5} ${MIDDLE - 5}l10 10m0 -10l-10 10`}
              stroke="var(--chakra-colors-fg)"
              strokeWidth="2"
            />
          ) : (
            <circle cx={x(reading.value_db)} cy={MIDDLE} r="5" fill="var(--chakra-colors-fg)" />
          )}
        </g>
      )}
    </svg>
  );
}

function told(row: ProofRow): string {
  const { should, reading } = row;
  const read = reading ? `, read ${figureText(reading.value_db)} dB: ${row.judgement}` : ", not read";
  return `expected ${figureText(should.expected_db)}, at most ${figureText(should.limit_db)} dB${read}`;
}

/** The numbers over the scale. */
export function ScaleHead({ scale }: { scale: LossScale }) {
  return (
    <svg width={scale.width} height="14" aria-hidden style={{ display: "block" }}>
      {scale.ticks.map((tick) => (
        <text
          key={tick}
          x={scale.x(tick)}
          y="11"
          fontSize="10"
          textAnchor="middle"
          fill="var(--chakra-colors-fg-muted)"
          className="figures"
        >
          {tick}
        </text>
      ))}
    </svg>
  );
}
