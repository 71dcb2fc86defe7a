import { Box, Flex, Text } from "@chakra-ui/react";

import type { BillLine, WaitingLine } from "../shared/api";
import { useSettings } from "../shared/settings";
import { quantityText } from "./words";

interface Props {
  waiting: readonly WaitingLine[];
  lines: readonly BillLine[];
}

/** What is ordered, each line as a bar that fills with what came; what is still to come stands first. */
export function WaitingLines({ waiting, lines }: Props) {
  const { unit } = useSettings();
  const lineOf = new Map(lines.map((line) => [line.words, line]));
  const sorted = [...waiting].sort((a, b) => Number(a.open === 0) - Number(b.open === 0));
  return (
    <Box as="section" aria-label="Still to come" mt={5} maxW="900px" fontSize="13px">
      {sorted.map((one) => {
        const line = lineOf.get(one.words);
        const told = (count: number) => (line ? quantityText(count, line, unit) : String(count));
        return (
          <Flex key={one.words} columnGap={2} align="center" py="1px" wrap="wrap">
            <Box width="120px" height="10px" borderWidth="1px" borderColor="fg" flexShrink={0} aria-hidden>
              <Box height="100%" bg="fg" width={`${Math.min(1, one.came / one.ordered) * 100}%`} />
            </Box>
            <Text className="figures" width="150px" flexShrink={0}>
              {told(one.came)} of {told(one.ordered)}
            </Text>
            <Text flex="1 1 240px">{one.words}</Text>
          </Flex>
        );
      })}
    </Box>
  );
}
