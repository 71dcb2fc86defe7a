import { Box, Flex, Text } from "@chakra-ui/react";

import type { Option, Verdict } from "../shared/api";
import { VerdictMark } from "../shared/VerdictMark";
import { marginText, rateText } from "../shared/format";

interface Props {
  option: Option;
  currency: string;
  taken: boolean;
  compared: boolean;
  onPick: () => void;
  onCompare: () => void;
}

/** One answer: what it is, its verdict and margin, what it costs, the speed that people get, what to do first. */
export function AnswerCard({ option, currency, taken, compared, onPick, onCompare }: Props) {
  const slower = option.bottleneck !== "the link";
  return (
    <Flex
      direction="column"
      borderWidth="1px"
      borderColor={taken ? "fg" : "border"}
      borderTopWidth={taken ? "3px" : "1px"}
      bg="bg.panel"
      data-option={option.key}
    >
      <Box
        asChild
        flex="1"
        display="flex"
        flexDirection="column"
        justifyContent="flex-start"
        alignItems="stretch"
        textAlign="start"
        px={3}
        py={2}
        cursor="pointer"
      >
        <button type="button" aria-pressed={taken} onClick={onPick}>
          <Text className="figures" fontWeight={600} overflowWrap="anywhere">
            {option.key}
          </Text>
          <Flex justify="space-between" gap={2} align="center">
            <Flex gap={1} align="center">
              <VerdictMark verdict={option.verdict_text.split(" ")[0] as Verdict} size={12} />
              {option.verdict_text}
            </Flex>
            <span className="figures">{option.margin_db === null ? "" : marginText(option.margin_db)}</span>
          </Flex>
          <Flex justify="space-between" gap={2}>
            <span className="figures">
              {option.cost.total.toFixed(0)} {currency}
            </span>
            <span>{option.dearer_by > 0 ? `+${option.dearer_by.toFixed(0)}` : "the cheapest"}</span>
          </Flex>
          <Text>
            {rateText(option.gets_mbps)}
            {slower ? `, decided by ${option.bottleneck}` : ""}
            {option.strands > 0 ? `; ${option.strands} strand${option.strands > 1 ? "s" : ""}` : ""}
          </Text>
          <Text color="fg.muted">needs {option.tools}</Text>
          {option.later && <Text>later: {option.later}</Text>}
          {option.steps.map((step) => (
            <Text key={step} mt={1} borderLeftWidth="2px" borderColor="border.emphasized" pl={2}>
              {step}
            </Text>
          ))}
        </button>
      </Box>
      <Box px={3} pb={1} fontSize="12px" color="fg.muted">
        <label>
          <input type="checkbox" checked={compared} onChange={onCompare} aria-label={`Compare ${option.key}`} />{" "}
          compare
        </label>
      </Box>
    </Flex>
  );
}
