import type { AnsweredTable } from "../shared/api";
import { PlainTable } from "../shared/PlainTable";
import { marginText } from "../shared/format";

const MOST_SHOWN = 200;

/** The answered lines: what is best, what came second, and why. */
export const AnsweredLines = ({ answered }: { answered: AnsweredTable["answered"] }) => (
  <PlainTable
    label="Answers"
    head={["line", "from, to", "best", "verdict", "margin", "cost", "later", "runner-up", "why"]}
    figures={[0, 4, 5]}
    rows={answered.slice(0, MOST_SHOWN).map((one) => ({
      key: String(one.line),
      cells: [
        one.line,
        `${one.from_place} to ${one.to_place}`,
        one.best?.key ?? "none",
        one.best?.verdict_text ?? "",
        one.best ? marginText(one.best.margin_db) : "",
        one.best ? one.best.cost.total.toFixed(0) : "",
        one.best?.later ?? "",
        one.runner_up?.key ?? "",
        one.reason,
      ],
    }))}
  />
);
