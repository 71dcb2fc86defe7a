import { Flex, Input } from "@chakra-ui/react";

import { Choice } from "../shared/Choice";
import { Toggle } from "../shared/Toggle";
import type { Situation } from "./queries";

interface Props {
  situation: Situation;
  onChange: (next: Partial<Situation>) => void;
  ends: readonly [string, string];
  tools: readonly string[];
}

/** Where one is and what is at hand: what the next look costs depends on it. */
export function SituationBar({ situation, onChange, ends, tools }: Props) {
  const flip = (tool: string) =>
    onChange({
      tools: situation.tools.includes(tool)
        ? situation.tools.filter((one) => one !== tool)
        : [...situation.tools, tool],
    });
  return (
    <Flex
      gap={2}
      wrap="wrap"
      align="center"
      fontSize="13px"
      role="group"
      aria-label="Where you are and what is at hand"
    >
      <Choice
        label="Where you are"
        value={situation.here}
        onChange={(here) => onChange({ here: here as Situation["here"] })}
        options={[
          ["left", `at ${ends[0]}`],
          ["right", `at ${ends[1]}`],
          ["away", "at neither end"],
        ]}
      />
      <label>
        minutes to the other end{" "}
        <Input
          size="xs"
          width="60px"
          type="number"
          min={0}
          max={2000}
          borderColor="border.emphasized"
          value={situation.travel_min}
          onChange={(event) =>
            onChange({ travel_min: Math.max(0, Math.min(2000, Number(event.target.value) || 0)) })
          }
        />
      </label>
      {tools.map((tool) => (
        <Toggle key={tool} words={tool} on={situation.tools.includes(tool)} onChange={() => flip(tool)} />
      ))}
      <Toggle words="spare module" on={situation.spares} onChange={() => onChange({ spares: !situation.spares })} />
      <Toggle
        words="second person"
        on={situation.people > 1}
        onChange={() => onChange({ people: situation.people > 1 ? 1 : 2 })}
      />
    </Flex>
  );
}
