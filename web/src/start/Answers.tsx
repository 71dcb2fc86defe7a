import { Box, Button, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Answer, Help } from "../shared/api";
import { usePrices } from "../shared/queries";
import { AnswerCard } from "./AnswerCard";
import { Comparison } from "./Comparison";
import { answerScale } from "./AnswerBar";
import { shownFirst } from "./shown";

const MOST_COMPARED = 4;

/** The answers, best first; the first is taken unless another is picked. Below, what was ruled out and why. */
export function Answers({
  projectId,
  answer,
  error,
  pick,
  onPick,
  onHelp,
  stale,
}: {
  projectId: number | undefined;
  answer: Answer | undefined;
  error: unknown;
  pick: string;
  onPick: (key: string) => void;
  onHelp: (change: Help["change"]) => void;
  /** The answer is to less than was typed by now: what it offers cannot be taken yet. */
  stale: boolean;
}) {
  const prices = usePrices(projectId);
  const [compared, setCompared] = useState<readonly string[]>([]);
  const [open, setOpen] = useState(false);
  const [all, setAll] = useState(false);
  if (error) return <Text color="fg.muted">There are answers as soon as the question can be read.</Text>;
  if (!answer)
    return (
      <Text color="fg.muted" fontSize="12.5px">
        Looking through the catalog …
      </Text>
    );
  const first = shownFirst(answer.options);
  const options = all ? answer.options : first;
  const scale = answerScale(answer.options);
  const currency = prices.data?.currency ?? "units";
  const marked = answer.options.filter((option) => compared.includes(option.key)).slice(0, MOST_COMPARED);
  const beside = marked.length > 1 ? marked : answer.options.slice(0, MOST_COMPARED);
  const mark = (key: string) =>
    setCompared(
      compared.includes(key) ? compared.filter((one) => one !== key) : [...compared, key].slice(-MOST_COMPARED),
    );
  const taken = answer.options.some((option) => option.key === pick) ? pick : answer.options[0]?.key;
  return (
    <Box aria-live="polite" data-testid="answers" fontSize="13px">
      {answer.asks.map((asked) => (
        <Text key={asked.field} mb={2} fontWeight={600} data-testid="asked">
          {asked.words}
        </Text>
      ))}
      <Text mb={2} maxW="90ch" data-testid="answer-why">
        {answer.why}
      </Text>
      {answer.later_note && (
        <Text mb={2} maxW="90ch" data-testid="later-note">
          {answer.later_note}
        </Text>
      )}
      {answer.helps.length > 0 && (
        <Box as="section" aria-label="What would answer" mb={2}>
          <Text mb={1}>What would:</Text>
          {answer.helps.map((help) => (
            <Button
              key={help.words}
              size="xs"
              variant="outline"
              mr={1}
              mb={1}
              height="auto"
              py={1}
              whiteSpace="normal"
              disabled={stale}
              onClick={() => onHelp(help.change)}
            >
              {help.words}: {help.answers}
            </Button>
          ))}
        </Box>
      )}
      <Grid templateColumns="repeat(auto-fill, minmax(250px, 1fr))" gap={2}>
        {options.map((option) => (
          <AnswerCard
            key={option.key}
            option={option}
            currency={currency}
            taken={option.key === taken}
            compared={compared.includes(option.key)}
            scale={scale}
            onPick={() => onPick(option.key)}
            onCompare={() => mark(option.key)}
          />
        ))}
      </Grid>
      <Flex gap={2} my={2}>
        {answer.options.length > 1 && (
          <Button size="xs" variant="outline" aria-expanded={open} onClick={() => setOpen(!open)}>
            Side by side
          </Button>
        )}
        {answer.options.length > first.length && (
          <Button size="xs" variant="outline" onClick={() => setAll(!all)}>
            {all ? "Fewer" : `${answer.options.length - first.length} more`}
          </Button>
        )}
      </Flex>
      {open && (
        <Comparison
          options={beside}
          currency={currency}
          source={prices.data?.source}
          onClose={() => setOpen(false)}
        />
      )}
      {answer.fallbacks.length > 0 && (
        <Box as="section" aria-label="If it fails" my={3} borderLeftWidth="3px" borderColor="fg" pl={2} maxW="90ch">
          {answer.fallbacks.map((text) => (
            <Text key={text}>{text}</Text>
          ))}
        </Box>
      )}
      {answer.ruled_out.length > 0 && (
        <Box asChild mt={3}>
          <details>
            <summary>{answer.ruled_out.length} ruled out, each for one reason</summary>
            {answer.ruled_out.map((out) => (
              <Text key={out.key} mt={1}>
                <span className="figures">{out.key}</span>: {out.reason}
              </Text>
            ))}
          </details>
        </Box>
      )}
      {answer.options.length === 0 && answer.helps.length === 0 && (
        <>
          <Heading as="h2" size="sm" fontWeight={600}>
            What could help
          </Heading>
          <Text>
            No application of this speed fits these ports and strands. Choose another cage, speed or strand count;
            say how many ports are free and slower links side by side are tried too.
          </Text>
        </>
      )}
    </Box>
  );
}
