import { Button, Flex, Text } from "@chakra-ui/react";

import type { ProofRow } from "../shared/api";
import { figureText } from "../shared/format";

export const ROW_WORDS: Record<string, string> = {
  pass: "pass",
  marginal: "marginal",
  fail: "fail",
  suspect: "not believed",
  dark: "no light",
};
const BAD: readonly string[] = ["fail", "suspect", "dark"];

interface Props {
  row: ProofRow;
  unfit?: string;
  cleaned: boolean;
  onCleaned: () => void;
}

/** What is to be known of a reading: what it rests on, what came before it, and the way on after a fail. */
export function RowNotes({ row, unfit, cleaned, onCleaned }: Props) {
  return (
    <>
      {unfit && (
        <Text fontSize="12.5px" role="note">
          {unfit}
        </Text>
      )}
      {!row.reading && row.refused && (
        <Text fontSize="12.5px" role="note" data-testid="refused">
          No reading can pass here: {row.refused}.
        </Text>
      )}
      {BAD.includes(row.judgement ?? "") && (
        <Flex gap={2} align="center" pb={1} className="no-print">
          <Button size="xs" variant={cleaned ? "solid" : "outline"} aria-pressed={cleaned} onClick={onCleaned}>
            Cleaned, read again
          </Button>
          <Text fontSize="12px" color="fg.muted">
            {cleaned
              ? "The next reading takes its place; this one stays in the history of the certificate."
              : "Without cleaning a later reading does not take its place."}
          </Text>
        </Flex>
      )}
      {(row.marks ?? []).map((words) => (
        <Text key={words} fontSize="12.5px" color="fg.muted">
          {words}
        </Text>
      ))}
      {(row.earlier ?? []).map((one) => (
        <Text key={one.reading.id} fontSize="12.5px" color="fg.muted" data-testid="earlier">
          Earlier: {figureText(one.reading.value_db)} dB, {ROW_WORDS[one.judgement] ?? one.judgement}; {one.why}.
        </Text>
      ))}
      {row.informs && (
        <Text fontSize="12.5px" color="fg.muted" pb={1}>
          Informs only: {row.informs}.
        </Text>
      )}
    </>
  );
}
