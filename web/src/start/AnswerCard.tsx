import { Box, Flex, Text } from "@chakra-ui/react";

import type { Option, Verdict } from "../shared/api";
import { VerdictMark } from "../shared/VerdictMark";
import { marginText, rateText } from "../shared/format";
import { useCatalog } from "../shared/queries";
import { evenScale } from "../draw/scale";
import { MiniChain } from "../draw/MiniChain";
import { AnswerBar, type AnswerScale } from "./AnswerBar";
import { marksOf } from "./marks";

interface Props {
  option: Option;
  currency: string;
  taken: boolean;
  compared: boolean;
  scale: AnswerScale;
  onPick: () => void;
  onCompare: () => void;
}

/** One answer: what it is, its verdict and margin, what it costs, the speed that people get, what to do first. */
export function AnswerCard({ option, currency, taken, compared, scale, onPick, onCompare }: Props) {
  const catalog = useCatalog().data;
  const margin = evenScale(scale.least_db, scale.most_db, 0, 1).at;
  const price = evenScale(0, scale.most_price, 0, 1).at;
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
          <Box my={1} width="100%">
            <MiniChain pieces={marksOf(option.links)} catalog={catalog} />
          </Box>
          <Flex gap={1} align="center">
            <VerdictMark verdict={option.verdict_text.split(" ")[0] as Verdict} size={12} />
            {option.verdict_text}
          </Flex>
          <AnswerBar
            words="margin"
            zero={margin(0)}
            to={option.margin_db === null ? null : margin(option.margin_db)}
            end={option.margin_db === null ? "–" : marginText(option.margin_db)}
          />
          <AnswerBar
            words="price"
            zero={0}
            to={price(option.cost.total)}
            end={`${option.cost.total.toFixed(0)} ${currency}`}
          />
          <Text color="fg.muted" textAlign="end">
            {option.dearer_by > 0 ? `+${option.dearer_by.toFixed(0)}` : "the cheapest"}
          </Text>
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
