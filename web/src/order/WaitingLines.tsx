import { Box, Flex, Text } from "@chakra-ui/react";

import type { BillLine, Paper } from "../shared/api";
import { useSettings } from "../shared/settings";
import { quantityText } from "./words";

/** How much of each line came, by the deliveries that stand. */
function cameOf(papers: readonly Paper[]): Map<string, number> {
  const came = new Map<string, number>();
  for (const paper of papers) {
    if (paper.kind !== "delivery" || paper.withdrawn) continue;
    for (const line of paper.lines) came.set(line.words, (came.get(line.words) ?? 0) + line.quantity);
  }
  return came;
}

/** What is ordered, each line as a bar that fills with what came; what is still to come stands first. */
export function WaitingLines({ lines, papers }: { lines: readonly BillLine[]; papers: readonly Paper[] }) {
  const { unit } = useSettings();
  const came = cameOf(papers);
  const left = (line: BillLine) => Math.max(0, line.ordered - (came.get(line.words) ?? 0));
  const sorted = [...lines].sort((a, b) => Number(left(a) === 0) - Number(left(b) === 0));
  return (
    <Box as="section" aria-label="Still to come" mt={5} maxW="900px" fontSize="13px">
      {sorted.map((line) => {
        const there = came.get(line.words) ?? 0;
        return (
          <Flex key={line.words} columnGap={2} align="center" py="1px" wrap="wrap">
            <Box width="120px" height="10px" borderWidth="1px" borderColor="fg" flexShrink={0} aria-hidden>
              <Box height="100%" bg="fg" width={`${Math.min(1, there / line.ordered) * 100}%`} />
            </Box>
            <Text className="figures" width="150px" flexShrink={0}>
              {quantityText(there, line, unit)} of {quantityText(line.ordered, line, unit)}
            </Text>
            <Text flex="1 1 240px">{line.words}</Text>
          </Flex>
        );
      })}
    </Box>
  );
}
