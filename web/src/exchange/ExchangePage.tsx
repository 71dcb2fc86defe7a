import { Box, Heading, Text } from "@chakra-ui/react";
import { useLocation } from "react-router";

import type { Project } from "../shared/api";
import { DroppedNote } from "./DroppedNote";
import { GeoSection } from "./GeoSection";
import { OutCards } from "./OutCards";
import { PlanCard } from "./PlanCard";
import { PlantSection } from "./PlantSection";
import { PriceSection } from "./PriceSection";
import { TableImport } from "./TableImport";
import type { Dropped, Held } from "./dropped";

/** What leaves in open formats, and what comes in: a card each. A file that is dropped anywhere comes here. */
export function ExchangePage({ project }: { project: Project | undefined }) {
  const state = useLocation().state as { dropped?: Dropped; at?: number } | null;
  if (!project) return null;
  const dropped = state?.dropped;
  const given = (held: Held) => (dropped?.held === held ? dropped : undefined);
  const { id } = project;
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Heading as="h1" size="md" fontWeight={600}>
        Import and export
      </Heading>
      <Text color="fg.muted" fontSize="13px">
        Everything leaves in open formats and comes back. Drop a file on any page: it is shown here before anything
        is stored.
      </Text>
      {dropped && <DroppedNote dropped={dropped} />}
      <Box key={state?.at ?? 0} maxW="1000px">
        <OutCards projectId={id} />
        <PlanCard projectId={id} given={given("plan")} />
        <TableImport projectId={id} given={given("links")?.text} />
        <PriceSection projectId={id} given={given("prices")?.text} />
        <PlantSection projectId={id} given={given("plant")?.text} />
        <GeoSection projectId={id} given={given("geojson")?.text} />
      </Box>
    </Box>
  );
}
