import { Box, Flex, Heading, Text } from "@chakra-ui/react";

import type { BillLine, Project } from "../shared/api";
import { BillRow } from "./BillRow";
import { money } from "./words";

/** The lines of one supplier's letter. */
export function BillGroup({
  where,
  lines,
  project,
  currency,
}: {
  where: string;
  lines: readonly BillLine[];
  project: Project | undefined;
  currency: string;
}) {
  const sum = lines.reduce((total, line) => total + line.total, 0);
  return (
    <Box as="section" aria-label={where} mt={4}>
      <Flex gap={3} align="baseline" borderBottomWidth="1px" borderColor="fg">
        <Heading as="h2" size="sm" fontWeight={600}>
          {where}
        </Heading>
        <Text fontSize="13px" color="fg.muted">
          {lines.length === 1 ? "1 line" : `${lines.length} lines`}
        </Text>
        <Text ml="auto" className="figures" fontSize="13px" fontWeight={600}>
          {money(sum)} {currency}
        </Text>
      </Flex>
      {lines.map((line) => (
        <BillRow key={line.words} line={line} project={project} />
      ))}
    </Box>
  );
}
