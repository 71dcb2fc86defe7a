import { Box, Flex, Text } from "@chakra-ui/react";

import type { Answer, Verdict } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { VerdictMark } from "../shared/VerdictMark";
import { marginText } from "../shared/format";

export interface Pick {
  application: string;
  grade: string;
}

const SHOWN = 4;

/** The answers, best first; the first is taken unless another is picked. Below, what was ruled out and why. */
export function Answers({ answer, error, pick, onPick }: { answer: Answer | undefined; error: unknown; pick: Pick | null; onPick: (pick: Pick) => void }) {
  if (error) return <ProblemNote error={error} />;
  if (!answer) return <Text color="fg.muted" fontSize="12.5px">Looking through the catalog …</Text>;
  const options = answer.options.slice(0, SHOWN);
  return (
    <Box aria-live="polite" data-testid="answers" fontSize="12.5px">
      {options.map((option, i) => {
        const grade = option.fiber.join(" or ");
        const taken = pick ? pick.application === option.application && pick.grade === grade : i === 0;
        return (
          <Box asChild key={option.application + grade} display="block" width="100%" textAlign="start" px={2} py="3px" mt={1} borderWidth="1px" borderColor={taken ? "fg" : "border"} bg="bg.panel">
            <button type="button" aria-pressed={taken} onClick={() => onPick({ application: option.application, grade })}>
              <Flex justify="space-between" gap={2}>
                <span className="figures">{option.application}</span>
                <span>{grade}</span>
              </Flex>
              <Flex justify="space-between" gap={2} align="center">
                <Flex gap={1} align="center">
                  <VerdictMark verdict={option.verdict_text.split(" ")[0] as Verdict} size={11} />
                  {option.verdict_text}
                </Flex>
                <span className="figures">{option.margin_db === null ? "" : marginText(option.margin_db)}</span>
              </Flex>
            </button>
          </Box>
        );
      })}
      <Text mt={1}>{answer.why}</Text>
      {answer.ruled_out.length > 0 && (
        <details>
          <summary>{answer.ruled_out.length} ruled out</summary>
          {answer.ruled_out.map((out) => (
            <Text key={out.application + out.fiber.join()} mt={1}>
              <span className="figures">{out.application}</span> on {out.fiber.join(" or ")}: {out.reason}
            </Text>
          ))}
        </details>
      )}
    </Box>
  );
}
