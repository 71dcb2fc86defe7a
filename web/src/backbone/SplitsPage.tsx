import { Box, Heading, Text } from "@chakra-ui/react";

import type { Project, SplitPort } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { Waiting } from "../shared/Waiting";
import { rateText } from "../shared/format";
import { SplitDrawing } from "./SplitDrawing";
import { useSplits } from "./queries";

/** Each fast port over several slower ones: its legs in order, which leg goes where, what each side gets. */
export function SplitsPage({ project }: { project: Project | undefined }) {
  const found = useSplits(project);
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Heading as="h1" size="md" fontWeight={600}>
        Split ports
      </Heading>
      <ProblemNote error={found.error} />
      <Waiting on={found.isLoading} words="Reading the split ports" />
      {found.data?.length === 0 && (
        <Text color="fg.muted" mt={2}>
          No port is split yet. Set a module of parallel lanes to be split, say into 4, and draw each leg as a link
          of its own; or ask for one under New link with the fast port at one end and the slow speed wanted.
        </Text>
      )}
      {found.data?.map((port) => (
        <Port key={`${port.place} ${port.label} ${port.cage}`} port={port} />
      ))}
    </Box>
  );
}

function Port({ port }: { port: SplitPort }) {
  const free = port.legs.filter((leg) => leg.link == null).map((leg) => leg.number);
  return (
    <Box as="section" aria-label={`Port ${port.label}`} mt={3}>
      <Heading as="h2" size="sm" fontWeight={600}>
        {port.label || "port without a label"} at {port.place || "a place that is not said"}
      </Heading>
      <Text fontSize="13px">
        {port.cage}, {rateText(port.whole_mbps)} as one port; {port.legs.length} × {rateText(port.leg_mbps)} by{" "}
        {port.by}. {free.length ? `Free: leg ${free.join(", ")}; cap it, its laser is lit.` : "No leg is free."}
      </Text>
      {port.doubled?.map((words) => (
        <Text key={words} role="status" fontSize="13px" fontWeight={600}>
          {words}: give each its own leg.
        </Text>
      ))}
      <SplitDrawing port={port} />
    </Box>
  );
}
