import type { Option } from "../shared/api";
import { roundUp } from "../draw/scale";

/** What the bars of all answers to a question are drawn on, so that they can be compared by eye. */
export interface AnswerScale {
  least_db: number;
  most_db: number;
  most_price: number;
}

const USUAL_DB = 6;

/** A scale that holds the margins and prices of all answers, with zero among the margins. */
export function answerScale(options: readonly Option[]): AnswerScale {
  const margins = options.flatMap((option) => (option.margin_db === null ? [] : [option.margin_db]));
  return {
    least_db: Math.min(0, ...margins),
    most_db: Math.max(USUAL_DB, ...margins),
    most_price: roundUp(Math.max(1, ...options.map((option) => option.cost.total))),
  };
}

interface Props {
  words: string;
  /** Where zero stands, as a share; the bar goes from there. */
  zero: number;
  to: number | null;
  end: string;
}

/** One figure of an answer as a bar on the common scale; below zero it is open. */
export function AnswerBar({ words, zero, to, end }: Props) {
  const [low, high] = to === null ? [zero, zero] : [Math.min(zero, to), Math.max(zero, to)];
  return (
    <span style={{ display: "grid", gridTemplateColumns: "46px 1fr 96px", gap: 6, alignItems: "center" }}>
      <span>{words}</span>
      <svg width="100%" height="12" aria-hidden>
        <line x1="0" x2="100%" y1="6" y2="6" stroke="var(--chakra-colors-border)" />
        <rect
          x={`${low * 100}%`}
          y="2"
          width={`${(high - low) * 100}%`}
          height="8"
          fill={to !== null && to < zero ? "none" : "var(--chakra-colors-fg)"}
          stroke="var(--chakra-colors-fg)"
          strokeWidth="0.8"
        />
        <line x1={`${zero * 100}%`} x2={`${zero * 100}%`} y1="0" y2="12" stroke="var(--chakra-colors-fg)" />
      </svg>
      <span className="figures" style={{ textAlign: "end" }}>
        {end}
      </span>
    </span>
  );
}
