import { Box, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Project, SwitchPower } from "../shared/api";
import { Care } from "../shared/Care";
import { ProblemNote } from "../shared/ProblemNote";
import { usePlant, usePlantQuery } from "../shared/queries";
import { useSettled } from "../shared/useSettled";
import { PowerFeed } from "./PowerFeed";
import { SwitchSum } from "./SwitchSum";

/** Power at the far end: over two conductors by size, and over twisted pair by switch. */
export function PowerPage({ project }: { project: Project | undefined }) {
  const [budget, setBudget] = useState("");
  const names = new Map((usePlant(project).data?.plant.places ?? []).map((place) => [place.id, place.name]));
  const switches = usePlantQuery<Record<string, SwitchPower>>(
    project,
    "switch-power",
    useSettled<Record<string, string>>(budget.trim() ? { budget_w: budget.trim() } : {}),
  );
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Heading as="h1" size="md" fontWeight={600}>
        Power at the far end
      </Heading>
      <Text color="fg.muted" fontSize="13px">
        Two conductors to a device of constant power. Its voltage at its peak decides; mains work is an
        electrician's.
      </Text>
      <PowerFeed />
      <Heading as="h2" size="sm" fontWeight={600} mt={5}>
        Over twisted pair, by switch
      </Heading>
      <label style={{ fontSize: 13 }}>
        budget of each switch{" "}
        <Input
          size="xs"
          width="70px"
          className="figures"
          aria-label="Budget W"
          borderColor="border.emphasized"
          placeholder="not known"
          value={budget}
          onChange={(event) => setBudget(event.target.value)}
        />{" "}
        W
      </label>
      <ProblemNote error={switches.error} />
      {Object.entries(switches.data ?? {}).map(([place, power]) => (
        <SwitchSum key={place} place={names.get(place) ?? place} power={power} />
      ))}
      {Object.keys(switches.data ?? {}).length === 0 && switches.isSuccess && (
        <Text fontSize="13px" color="fg.muted">
          No device is fed from a switch: set "fed from" in the table of devices.
        </Text>
      )}
      <Care
        lines={[
          "Mains and direct-current supplies: an electrician decides on fusing, earthing and conductor rating; local codes and licensed people decide.",
        ]}
      />
    </Box>
  );
}
