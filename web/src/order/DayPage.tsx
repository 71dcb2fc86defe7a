import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { Link as RouterLink, useSearchParams } from "react-router";

import type { DayPlan, Project } from "../shared/api";
import { Care } from "../shared/Care";
import { ProblemNote } from "../shared/ProblemNote";
import { Toggle } from "../shared/Toggle";
import { Waiting } from "../shared/Waiting";
import { usePlant } from "../shared/queries";
import { useSettings } from "../shared/settings";
import { DayPullView } from "./DayPullView";
import { Downloads } from "./Downloads";
import { useDay } from "./queries";

const TO_PULL = ["planned", "ordered", "delivered"];

/** A day of pulling: what in which order, from where, with whom and what, and what to mind. It prints. */
export function DayPage({ project }: { project: Project | undefined }) {
  const { unit } = useSettings();
  const [params, setParams] = useSearchParams();
  const chosen = params.getAll("cable");
  const cables = (usePlant(project).data?.plant.cables ?? []).filter((one) => TO_PULL.includes(one.state ?? ""));
  const found = useDay(project, chosen);
  const toggle = (id: string) =>
    setParams(
      { cable: chosen.includes(id) ? chosen.filter((one) => one !== id) : [...chosen, id] },
      { replace: true },
    );
  const query = new URLSearchParams([...chosen.map((id) => ["cable", id]), ["unit", unit]]).toString();
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Flex gap={1} wrap="wrap" align="center">
        <Heading as="h1" size="md" fontWeight={600} mr={2}>
          Day of pulling
        </Heading>
        <Flex gap={1} wrap="wrap" className="no-print" role="group" aria-label="Cables of the day">
          {cables.map((cable) => (
            <Toggle
              key={cable.id}
              words={cable.name}
              on={chosen.includes(cable.id)}
              onChange={() => toggle(cable.id)}
            />
          ))}
          {chosen.length > 0 && (
            <Button size="xs" variant="ghost" onClick={() => setParams({}, { replace: true })}>
              all that are to be pulled
            </Button>
          )}
        </Flex>
        <Downloads projectId={project?.id} name="pull-day" kinds={["pdf"]} query={query} />
      </Flex>
      <ProblemNote error={found.error} />
      <Waiting on={found.isLoading} words="Planning the day" />
      {found.data && !found.error && <Day plan={found.data} />}
    </Box>
  );
}

function Day({ plan }: { plan: DayPlan }) {
  if (plan.pulls.length === 0)
    return (
      <Text color="fg.muted" mt={2} maxW="70ch">
        No cable is still to be pulled. A cable of the plan whose state is planned, ordered or delivered stands
        here: a route plans one, under <RouterLink to="/site/routes">Layout, Routes</RouterLink>.
      </Text>
    );
  return (
    <>
      <Text fontSize="17px" fontWeight={600} mt={1}>
        The reel stands at {plan.reel_at}: most pulls start there.
      </Text>
      <List title="People" lines={plan.people} />
      <List title="Things" lines={plan.things} />
      {plan.pulls.map((pull) => (
        <DayPullView key={pull.number} pull={pull} />
      ))}
      <Heading as="h2" size="sm" fontWeight={600} mt={4}>
        At each pull
      </Heading>
      <Box as="ol" pl={5} fontSize="13px" listStyleType="decimal">
        {plan.steps.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </Box>
      <Heading as="h2" size="sm" fontWeight={600} mt={4}>
        Mind
      </Heading>
      <Care lines={plan.cautions} />
    </>
  );
}

const List = ({ title, lines }: { title: string; lines: readonly string[] }) =>
  lines.length > 0 ? (
    <Text fontSize="13px" mt={1}>
      <b>{title}:</b> {lines.join(", ")}.
    </Text>
  ) : null;
