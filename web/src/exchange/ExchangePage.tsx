import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { usePlanImport } from "./queries";
import { GeoSection } from "./GeoSection";
import { PlantSection } from "./PlantSection";
import { PriceSection } from "./PriceSection";
import { TableImport } from "./TableImport";

/** What leaves in open formats, and what comes in. */
export function ExchangePage({ project }: { project: Project | undefined }) {
  const plan = usePlanImport(project?.id);
  const [file, setFile] = useState("");
  if (!project) return null;
  const base = `/api/v1/projects/${project.id}`;

  async function take(chosen: File | undefined) {
    if (!chosen) return;
    setFile(chosen.name);
    plan.mutate(await chosen.text());
  }

  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3} maxW="1000px">
      <Heading as="h1" size="md" fontWeight={600}>
        In and out
      </Heading>
      <Heading as="h2" size="md" fontWeight={600} mt={3}>
        Out
      </Heading>
      <Text color="fg.muted" fontSize="13px">
        The plan file holds the whole project, its log left out or in as you choose. Tables hold the list with its
        figures.
      </Text>
      <Flex gap={2} mt={2} wrap="wrap">
        {[
          ["Plan file, JSON", `${base}/plan`],
          ["Plan file with its log", `${base}/plan?with_history=true`],
          ["Its JSON Schema", "/api/v1/plan-schema"],
          ["Links, CSV", `${base}/links.csv`],
          ["Links, XLSX", `${base}/links.xlsx`],
        ].map(([words, href]) => (
          <Button key={href} size="xs" variant="outline" asChild>
            <a href={href} download>
              {words}
            </a>
          </Button>
        ))}
      </Flex>
      <Heading as="h2" size="md" fontWeight={600} mt={6}>
        In: links of a plan file
      </Heading>
      <Text color="fg.muted" fontSize="13px">
        Its links are added to this project as one change, which one undo takes back.
      </Text>
      <input
        type="file"
        accept=".json,application/json"
        aria-label="Plan file"
        onChange={(event) => void take(event.target.files?.[0])}
      />
      {plan.data && (
        <Text role="status">
          {plan.data.added} links were added from {file}.
        </Text>
      )}
      <ProblemNote error={plan.error} />
      <TableImport projectId={project.id} />
      <PriceSection projectId={project.id} />
      <PlantSection projectId={project.id} />
      <GeoSection projectId={project.id} />
    </Box>
  );
}
