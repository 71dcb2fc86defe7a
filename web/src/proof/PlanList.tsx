import { Box, Text } from "@chakra-ui/react";

import type { ProofOut } from "../shared/api";
import { Care } from "../shared/Care";

type Task = ProofOut["proof"]["tasks"][number];
const CARE = [
  "Splicer arcs, heat guns and solvents ignite: a gas test before they are used in a pit, never at a fuel berth. Local codes decide.",
];

/** The test plan: what is worth testing at which moment, why, with what, and how long it takes. */
export function PlanList({ tasks }: { tasks: readonly Task[] }) {
  if (tasks.length === 0) return null;
  const groups = new Map<string, Task[]>();
  for (const task of tasks) {
    const key = `${task.moment}|${task.kind}|${task.why}`;
    groups.set(key, [...(groups.get(key) ?? []), task]);
  }
  const minutes = tasks.reduce((sum, task) => sum + task.minutes, 0);
  return (
    <Box as="details" mt={3} fontSize="13px">
      <summary>
        <b>Test plan</b>: about {Math.round(minutes)} minutes with one pair of instruments
      </summary>
      <Box as="ol" pl={5} mt={1} aria-label="Test plan">
        {[...groups].map(([key, group]) => {
          const first = group[0]!;
          const spent = group.reduce((sum, task) => sum + task.minutes, 0);
          return (
            <li key={key}>
              {first.moment}: {group.length > 1 ? `${group.length} × ` : ""}
              {first.kind}, {Math.round(spent)} min, {first.tools.join(", ")}. {first.why}
            </li>
          );
        })}
      </Box>
      <Text color="fg.muted" fontSize="12px">
        Minutes are estimates.
      </Text>
      <Care lines={CARE} />
    </Box>
  );
}
