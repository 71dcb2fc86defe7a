import { Box, Button, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useByWhom } from "../proof/who";
import type { Ticked, TurnUpOut } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { here } from "./WhoHere";
import { useSay } from "./queries";

interface Props {
  id: number;
  steps: readonly Ticked[];
  phases: TurnUpOut["phases"];
}

/** The steps in order, each with its cautions, ticked by hand; a tick is an entry of the logbook. */
export function StepList({ id, steps, phases }: Props) {
  const [by] = useByWhom();
  const tick = useSay<object>(() => `/links/${id}/turnup/steps`);
  return (
    <Box as="section" aria-label="Steps" mt={3}>
      <ProblemNote error={tick.error} />
      {phases.map(([phase, words]) => {
        const own = steps.filter((one) => one.step.phase === phase);
        if (!own.length) return null;
        const done = own.filter((one) => one.done).length;
        return (
          <Box key={phase} as="details" mt={2} {...{ open: done < own.length }}>
            <Heading as="summary" size="sm" fontWeight={600} cursor="pointer">
              {words}{" "}
              <Text as="span" className="figures" color="fg.muted" fontWeight={400}>
                {done}/{own.length}
              </Text>
            </Heading>
            {own.length - done > 1 && (
              <Button
                size="xs"
                variant="outline"
                mt={1}
                loading={tick.isPending}
                onClick={() => {
                  const [step, ...also] = own.filter((one) => !one.done).map(nameOf);
                  tick.mutate({ step, also, done: true, ...here(by) });
                }}
              >
                Tick the {own.length - done} that are left here
              </Button>
            )}
            <Box as="ol" p={0} listStyleType="none">
              {own.map((one) => (
                <StepRow
                  key={`${one.step.code} ${one.step.end}`}
                  ticked={one}
                  onTick={(done, settled) =>
                    tick.mutate({ step: nameOf(one), done, ...here(by) }, { onSettled: settled })
                  }
                />
              ))}
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}

const nameOf = ({ step }: Ticked) => `${step.code} ${step.end}`.trim();

interface RowProps {
  ticked: Ticked;
  onTick: (done: boolean, settled: () => void) => void;
}

function StepRow({ ticked, onTick }: RowProps) {
  const [wanted, setWanted] = useState<boolean | null>(null); // shown at once, until it is written down
  const { step } = ticked;
  return (
    <Box as="li" borderTopWidth="1px" py="6px" fontSize="13px" data-step={`${step.code} ${step.end}`.trim()}>
      <label style={{ display: "flex", gap: 10, alignItems: "flex-start", minHeight: 28 }}>
        <input
          type="checkbox"
          style={{ width: 20, height: 20, flexShrink: 0 }}
          checked={wanted ?? ticked.done}
          onChange={(event) => {
            setWanted(event.target.checked);
            onTick(event.target.checked, () => setWanted(null));
          }}
        />
        <span>
          {step.words}
          {ticked.done && (
            <Text as="span" color="fg.muted">
              {" "}
              – {[ticked.who, ticked.day].filter(Boolean).join(", ") || "done"}
            </Text>
          )}
          {step.why && (
            <Text as="span" display="block" color="fg.muted" fontSize="12px">
              {step.why}
            </Text>
          )}
          {(step.cautions ?? []).map((words) => (
            <Text
              key={words}
              as="span"
              display="block"
              fontSize="12px"
              borderLeftWidth="3px"
              borderColor="fg"
              pl={2}
              mt="2px"
            >
              {words}
            </Text>
          ))}
        </span>
      </label>
    </Box>
  );
}
