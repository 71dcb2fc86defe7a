import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Answer, Verdict } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { VerdictMark } from "../shared/VerdictMark";
import { lengthText, marginText, sourceText } from "../shared/format";
import { usePrices } from "../shared/queries";
import { useSettings } from "../shared/settings";
import { Comparison } from "./Comparison";

export interface Pick {
  application: string;
  grade: string;
}

const SHOWN = 4;

/** The answers, best first; the first is taken unless another is picked. Below, what was ruled out and why. */
export function Answers({ projectId, answer, error, pick, onPick }: { projectId: number | undefined; answer: Answer | undefined; error: unknown; pick: Pick | null; onPick: (pick: Pick) => void }) {
  const { unit } = useSettings();
  const prices = usePrices(projectId);
  const [compared, setCompared] = useState(false);
  if (error) return <ProblemNote error={error} />;
  if (!answer) return <Text color="fg.muted" fontSize="12.5px">Looking through the catalog …</Text>;
  const options = answer.options.slice(0, SHOWN);
  const currency = prices.data?.currency ?? "units";
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
              <Flex justify="space-between" gap={2}>
                <span className="figures">{option.cost.total.toFixed(0)} {currency}</span>
                <span>{option.dearer_by > 0 ? `+${option.dearer_by.toFixed(0)}` : "the cheapest"}</span>
              </Flex>
              {option.later && <Text>later: {option.later}</Text>}
            </button>
          </Box>
        );
      })}
      <Text mt={1}>{answer.why}</Text>
      {options.length > 1 && <Button size="2xs" variant="outline" my={1} aria-expanded={compared} onClick={() => setCompared(!compared)}>Side by side</Button>}
      {compared && <Comparison options={options} currency={currency} source={prices.data?.source} onClose={() => setCompared(false)} />}
      {(answer.copper ?? []).length > 0 && (
        <details>
          <summary>copper: {answer.copper?.filter((one) => one.fits).length} of {answer.copper?.length} would reach</summary>
          {answer.copper?.map((one) => (
            <Text key={one.copper.name} mt={1}>
              <span className="figures">{one.copper.name}</span>, {one.copper.medium}: {one.fits ? `reaches ${lengthText(one.copper.reach_m, unit)}. ` : ""}{one.why} <Text as="span" color="fg.muted">{sourceText(one.copper.source)}</Text>
            </Text>
          ))}
          <Text mt={1} color="fg.muted">Named, not drawn: Passerelle draws glass.</Text>
        </details>
      )}
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
