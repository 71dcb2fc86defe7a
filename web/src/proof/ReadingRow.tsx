import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { type FormEvent, useState } from "react";

import type { ProofRow } from "../shared/api";
import { figureText } from "../shared/format";
import { ROW_WORDS, RowNotes } from "./RowNotes";
import { asTyped } from "../shared/doubt";
import { type LossScale, rowName } from "./bands";
import { RowScale } from "./RowScale";

interface Props {
  row: ProofRow;
  scale: LossScale;
  held: boolean;
  onHold: () => void;
  /** Writes the value down; answers whether it was taken. */
  onTake: (value_db: number, note?: string, cleaned?: boolean) => Promise<boolean>;
  onMeter?: (cleaned: boolean) => void;
  /** Why the chosen reference cannot serve this row. */
  unfit?: string;
  busy: boolean;
}

/** One reading: the number and Enter goes to the next one. */
export function ReadingRow({ row, scale, held, onHold, onTake, onMeter, unfit, busy }: Props) {
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState(false);
  const [cleaned, setCleaned] = useState(false);
  const inputId = `reading-${row.strand}-${row.wavelength_nm}-${row.direction}`;
  const name = rowName(row);
  const clean = () => {
    setCleaned(!cleaned);
    document.getElementById(inputId)?.focus();
  };
  async function take(event: FormEvent) {
    event.preventDefault();
    const form = event.currentTarget;
    const value = asTyped(text);
    const taken = value !== null && (await onTake(value, "", cleaned));
    setWrong(!taken);
    if (!taken) return;
    setText("");
    setCleaned(false);
    const all = [...document.querySelectorAll<HTMLInputElement>("[data-reading-input]")];
    const mine = form.querySelector<HTMLInputElement>("[data-reading-input]");
    all[(mine ? all.indexOf(mine) : -1) + 1]?.focus();
  }
  return (
    <Box
      as="li"
      listStyleType="none"
      borderTopWidth="1px"
      bg={held ? "bg.subtle" : undefined}
      data-row={`${row.strand}-${row.wavelength_nm}-${row.direction}`}
    >
      <Flex asChild gap={2} align="center" wrap="wrap" minH="40px" py="2px">
        <form onSubmit={(event) => void take(event)}>
          <Text width="148px" fontSize="13px" className="figures">
            {row.strand}
            {row.far && row.far !== row.strand ? `→${row.far}` : ""} {row.wavelength_nm} nm{" "}
            {row.direction === "right" ? "→" : "←"}
          </Text>
          <RowScale row={row} scale={scale} />
          <Text width="74px" fontSize="12px" className="figures" title="The limit that decides">
            ≤ {figureText(Math.min(row.should.limit_db, row.should.application_db ?? Infinity))}
          </Text>
          <Input
            data-reading-input
            id={inputId}
            onFocus={onHold}
            size="sm"
            width="84px"
            className="figures"
            borderColor="border.emphasized"
            inputMode="decimal"
            aria-label={`Reading, ${name}`}
            placeholder={row.reading ? figureText(row.reading.value_db) : "dB"}
            aria-invalid={wrong}
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
          {onMeter && (
            <Button
              size="sm"
              variant="outline"
              disabled={busy}
              onClick={() => (onMeter(cleaned), setCleaned(false))}
              aria-label={`Read ${name}`}
            >
              Read
            </Button>
          )}
          <Text fontSize="13px" fontWeight={600} minW="84px" data-testid="judgement">
            {row.judgement ? ROW_WORDS[row.judgement] : ""}
          </Text>
        </form>
      </Flex>
      {wrong && (
        <Text fontSize="12.5px" role="alert">
          Not recorded. Enter the loss in dB, for example 1.25.
        </Text>
      )}
      <RowNotes row={row} unfit={unfit} cleaned={cleaned} onCleaned={clean} />
      {row.cause && (
        <Box fontSize="13px" pb={2} maxW="92ch" data-testid="cause">
          <b>{row.cause.code}.</b> {row.cause.what} <i>{row.cause.next_step}</i>
        </Box>
      )}
      {held && !row.reading && (
        <Button
          size="xs"
          variant="outline"
          mb={2}
          onClick={() => void onTake(60, "no light: the floor of the meter")}
        >
          No light came through
        </Button>
      )}
    </Box>
  );
}
