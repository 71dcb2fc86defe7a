import { Text } from "@chakra-ui/react";

import { Choice } from "../shared/Choice";
import { Toggle } from "../shared/Toggle";
import { rateText } from "../shared/format";
import { Line, NumberLine } from "./Line";
import { RATES } from "../shared/generated/lists";
import { type Change, type More, countOf } from "./wish";

const RANKS: [More["rank_by"], string][] = [
  ["school", "the house's school"],
  ["cost", "smallest cost"],
  ["margin", "widest margin"],
  ["later speed", "what carries the later speed"],
  ["weights", "weights of my own"],
];
const WEIGHTS: [keyof More["weights"], string][] = [
  ["cost", "cost"],
  ["margin", "margin"],
  ["later", "later speed"],
  ["strands", "few strands"],
  ["tools", "few tools"],
  ["spares", "few spares"],
];

/** What counts most: the later speed, the order of answers, weights that can be moved, a limit on the price. */
export function OrderQuestions({ more, onChange }: { more: More; onChange: Change }) {
  return (
    <>
      <Line words="speed later">
        <Choice
          label="Speed later"
          width="100%"
          value={String(more.later_mbps ?? "")}
          options={[["", "the same"], ...RATES.map((rate): [string, string] => [String(rate), rateText(rate)])]}
          onChange={(text) => onChange({ later_mbps: countOf(text) })}
        />
      </Line>
      <Line words="first by">
        <Choice
          label="First by"
          width="100%"
          value={more.rank_by}
          options={RANKS}
          onChange={(rank) => onChange({ rank_by: rank as More["rank_by"] })}
        />
      </Line>
      {more.rank_by === "weights" &&
        WEIGHTS.map(([key, words]) => (
          <Line key={key} words={words}>
            <label style={{ display: "flex", gap: 8, alignItems: "center" }}>
              <input
                type="range"
                min={0}
                max={5}
                step={0.5}
                aria-label={`Weight of ${words}`}
                value={more.weights[key]}
                style={{ flex: 1, minWidth: 0, accentColor: "currentColor" }}
                onChange={(event) => onChange({ weights: { ...more.weights, [key]: Number(event.target.value) } })}
              />
              <Text as="span" className="figures" width="28px">
                {more.weights[key]}
              </Text>
            </label>
          </Line>
        ))}
      <NumberLine
        words="at most"
        label="Price limit"
        value={more.price_limit}
        placeholder="any price"
        onChange={(text) => onChange({ price_limit: countOf(text) })}
      />
      <Line words="an outage">
        <Toggle
          words={more.outage_matters ? "matters" : "can wait"}
          on={more.outage_matters}
          onChange={() => onChange({ outage_matters: !more.outage_matters })}
        />
      </Line>
    </>
  );
}
