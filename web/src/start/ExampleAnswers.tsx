import { Box, Button, Grid, Heading, Text } from "@chakra-ui/react";

import type { Answer, Verdict } from "../shared/api";
import { VerdictMark } from "../shared/VerdictMark";
import { marginText } from "../shared/format";
import { useCatalog } from "../shared/queries";
import { evenScale } from "../draw/scale";
import { MiniChain } from "../draw/MiniChain";
import { AnswerBar, answerScale } from "./AnswerBar";
import { marksOf } from "./marks";
import { shownFirst } from "./shown";

const SHOWN = 4;

/** What answers look like before a length is known: drawn with an example, never to be taken. */
export function ExampleAnswers({
  answer,
  error,
  length,
  onBare,
}: {
  answer: Answer | undefined;
  error: unknown;
  length: string;
  onBare: () => void;
}) {
  const catalog = useCatalog().data;
  if (error) return <Text color="fg.muted">There are answers as soon as the question can be read.</Text>;
  const options = shownFirst(answer?.options ?? []).slice(0, SHOWN);
  const scale = answerScale(options);
  const margin = evenScale(scale.least_db, scale.most_db, 0, 1).at;
  const price = evenScale(0, scale.most_price, 0, 1).at;
  return (
    <Box data-testid="example-answers" fontSize="13px" minH="420px">
      <Heading as="h2" size="sm" fontWeight={600}>
        How far is missing: this is an example with {length}
      </Heading>
      <Text mb={3} maxW="80ch">
        Type how far it is, and the answers for it stand here: each as its chain, with its verdict, margin and price
        on common scales. Without a length each would read unknown.{" "}
        <Button size="xs" variant="outline" onClick={onBare}>
          Answer without a length
        </Button>
      </Text>
      <Grid
        templateColumns="repeat(auto-fill, minmax(250px, 1fr))"
        gap={4}
        aria-label="Example answers"
        role="group"
      >
        {options.map((option) => (
          <Box key={option.key} borderTopWidth="1px" pt={2} data-example={option.key}>
            <Text className="figures" overflowWrap="anywhere">
              {option.key}
            </Text>
            <Box my={1}>
              <MiniChain pieces={marksOf(option.links)} catalog={catalog} />
            </Box>
            <Text>
              <VerdictMark verdict={option.verdict_text.split(" ")[0] as Verdict} size={12} /> {option.verdict_text}
            </Text>
            <AnswerBar
              words="margin"
              zero={margin(0)}
              to={option.margin_db === null ? null : margin(option.margin_db)}
              end={option.margin_db === null ? "–" : marginText(option.margin_db)}
            />
            <AnswerBar words="price" zero={0} to={price(option.cost.total)} end={option.cost.total.toFixed(0)} />
          </Box>
        ))}
      </Grid>
    </Box>
  );
}
