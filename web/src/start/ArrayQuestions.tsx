import { Text } from "@chakra-ui/react";

import { Choice } from "../shared/Choice";
import { Line, NumberLine } from "./Line";
import { type Change, type More, countOf } from "./wish";

const TRUNKS = ["8", "12", "16", "24", "32"] as const;
const WIRINGS = ["reversed", "straight", "pair-flipped", "pair-flipped, reversed"] as const;

/** An array trunk that lies there, and the hosts on one fast port that is split. */
export function ArrayQuestions({ more, onChange }: { more: More; onChange: Change }) {
  return (
    <>
      <Line words="array trunk there">
        <Choice
          label="Array trunk that is there"
          width="100%"
          value={more.trunk}
          options={[
            ["", "none: new cable"],
            ...TRUNKS.map(
              (name) => [name, `${name} fibers, ${more.fiber.join(" or ") || "OM4"}`] as [string, string],
            ),
          ]}
          onChange={(trunk) =>
            onChange({ trunk: trunk as More["trunk"], ...(trunk && !more.fiber.length ? { fiber: ["OM4"] } : {}) })
          }
        />
      </Line>
      {more.trunk !== "" && (
        <Line words="its positions">
          <Choice
            label="Positions of the trunk"
            width="100%"
            value={more.trunk_wiring}
            options={WIRINGS.map((one) => [one, one])}
            onChange={(wiring) => onChange({ trunk_wiring: wiring as More["trunk_wiring"] })}
          />
        </Line>
      )}
      <NumberLine
        words="hosts"
        label="Hosts on one split port"
        value={more.hosts}
        placeholder="1"
        onChange={(text) => onChange({ hosts: Math.min(10, Math.max(1, countOf(text) ?? 1)) })}
      />
      <Text color="fg.muted" fontSize="12px">
        For one fast port over several hosts ask for the speed of a host, and say the cage of the fast port.
      </Text>
    </>
  );
}
