import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { Project, TrunkSheet } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { Waiting } from "../shared/Waiting";
import { lengthText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { TrunkStrip } from "./TrunkStrip";
import { useTrunks } from "./queries";

/** A sheet for each trunk, to hang beside it: what it is, key and pins at each end, where each position comes out. */
export function TrunksPage({ project }: { project: Project | undefined }) {
  const found = useTrunks(project);
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Flex gap={3} align="baseline">
        <Heading as="h1" size="md" fontWeight={600}>
          Trunks
        </Heading>
        <Button size="xs" variant="outline" className="no-print" onClick={() => window.print()}>
          Print
        </Button>
      </Flex>
      <ProblemNote error={found.error} />
      <Waiting on={found.isLoading} words="Reading the trunks" />
      {found.data?.length === 0 && (
        <Text color="fg.muted" mt={2}>
          No array trunk stands in a link yet. Backbone, in the row above, designs one set of parts and lays the
          first link over it.
        </Text>
      )}
      {found.data?.map((sheet) => (
        <Sheet key={`${sheet.links[0]} ${sheet.name}`} sheet={sheet} />
      ))}
    </Box>
  );
}

function Sheet({ sheet }: { sheet: TrunkSheet }) {
  const { unit } = useSettings();
  const letter = sheet.letter ? `type ${sheet.letter}, ` : "";
  return (
    <Box as="section" aria-label={sheet.name} mt={4} css={{ breakInside: "avoid" }}>
      <Flex gap={3} align="baseline" wrap="wrap">
        <Heading as="h2" size="sm" fontWeight={600}>
          {sheet.name}
        </Heading>
        <Text fontSize="13px">
          {letter}
          {sheet.wiring}, {sheet.array} fibers, {sheet.polish === "APC" ? "angled" : "flat"},{" "}
          {lengthText(sheet.length_m ?? null, unit)}
        </Text>
        {sheet.links.map((id) => (
          <RouterLink key={id} className="no-print" to={`/links/${id}?lens=strands`}>
            link {id}
          </RouterLink>
        ))}
      </Flex>
      {sheet.disagree?.map((words) => (
        <Text key={words} role="status" fontSize="13px" fontWeight={600}>
          {words}.
        </Text>
      ))}
      <TrunkStrip sheet={sheet} />
    </Box>
  );
}
