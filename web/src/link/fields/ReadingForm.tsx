import { Box, Button, Input, Text } from "@chakra-ui/react";
import { type FormEvent, useState } from "react";

import type { LinkDetail, Reading } from "../../shared/api";
import { isGlass } from "../../shared/colors";
import { ProblemNote } from "../../shared/ProblemNote";
import { pieceName } from "../names";
import { asTyped } from "../../shared/doubt";
import { WhoBar } from "../../proof/WhoBar";
import { signed, useByWhom } from "../../proof/who";
import { ChoiceField } from "./ChoiceField";
import { Row } from "./Row";

type Elements = LinkDetail["link"]["elements"];
type Draft = Record<
  | "value_db"
  | "uncertainty_db"
  | "wavelength_nm"
  | "taken_on"
  | "note"
  | "start"
  | "end"
  | "direction"
  | "method"
  | "reference"
  | "near_joint"
  | "far_joint"
  | "tester_zero",
  string
>;

const METHODS = ["light source and power meter", "trace, both directions averaged", "trace, one direction"];
const REFERENCES = [
  ["one cord", "one cord: both end joints are in the value"],
  ["two cords", "two cords: one end joint is in the value"],
  ["three cords", "three cords: no end joint is in the value"],
  ["launch and receive cords", "launch and receive cords, of a trace"],
] as const;
const JOINT = [
  ["", "not said"],
  ["yes", "included"],
  ["no", "not included"],
] as const;
const joint = (text: string) => (text === "" ? null : text === "yes");

/** A reading with all that it needs to decide; what is left out is kept, and the reading only informs. */
export function ReadingForm({
  elements,
  piece,
  onTake,
}: {
  elements: Elements;
  piece: Elements[number];
  onTake: (reading: Reading) => Promise<unknown>;
}) {
  const [draft, setDraft] = useState<Draft>({
    value_db: "",
    uncertainty_db: "",
    wavelength_nm: "",
    taken_on: "",
    note: "",
    start: piece.id ?? "",
    end: piece.id ?? "",
    direction: "",
    method: METHODS[0]!,
    reference: "one cord",
    near_joint: "yes",
    far_joint: "yes",
    tester_zero: "",
  });
  const [error, setError] = useState<unknown>(null);
  const [by, setBy] = useByWhom();
  const put = (key: keyof Draft) => (value: string) => setDraft((before) => ({ ...before, [key]: value }));
  const glass = elements.filter(isGlass);
  const pieces = glass.map((e) => [e.id ?? "", pieceName(e)] as const);

  async function take(event: FormEvent) {
    event.preventDefault();
    if (draft.value_db.trim() === "") return;
    const reading = {
      ...signed(by),
      value_db: asTyped(draft.value_db),
      uncertainty_db: asTyped(draft.uncertainty_db),
      wavelength_nm: asTyped(draft.wavelength_nm),
      taken_on: draft.taken_on || null,
      note: draft.note,
      tester_zero: draft.tester_zero.trim(),
      start: draft.start,
      end: draft.end,
      direction: draft.direction || null,
      method: draft.method || null,
      reference: draft.reference || null,
      near_joint: joint(draft.near_joint),
      far_joint: joint(draft.far_joint),
    } as unknown as Reading;
    setError(await onTake(reading));
  }

  const text = (key: keyof Draft, label: string, more: { placeholder?: string; type?: string } = {}) => (
    <Row label={label} htmlFor={`reading-${key}`}>
      <Input
        id={`reading-${key}`}
        size="xs"
        bg="bg.panel"
        borderColor="border.emphasized"
        className={key === "note" ? undefined : "figures"}
        value={draft[key]}
        onChange={(event) => put(key)(event.target.value)}
        {...more}
      />
    </Row>
  );
  return (
    <Box asChild mt={1} p={2} borderWidth="1px" bg="bg.panel">
      <form aria-label="Reading" onSubmit={(event) => void take(event)}>
        {text("value_db", "loss, dB")}
        {text("uncertainty_db", "± dB", { placeholder: "of the method, such as 0.2" })}
        {text("wavelength_nm", "at, nm", { placeholder: "1310, 1550, 850" })}
        <ChoiceField
          label="light goes"
          value={draft.direction}
          options={[
            ["", "not said"],
            ["both", "both ways"],
            ["right", "towards the right end"],
            ["left", "towards the left end"],
          ]}
          onChange={put("direction")}
        />
        <ChoiceField
          label="method"
          value={draft.method}
          options={[["", "not said"], ...METHODS]}
          onChange={put("method")}
        />
        <ChoiceField
          label="reference"
          value={draft.reference}
          options={[["", "not said"], ...REFERENCES]}
          onChange={put("reference")}
        />
        {text("tester_zero", "reference set", { placeholder: "08:05, joined 0.06 dB" })}
        <ChoiceField label="from" value={draft.start} options={pieces} onChange={put("start")} />
        <ChoiceField label="to" value={draft.end} options={pieces} onChange={put("end")} />
        <ChoiceField label="left joint" value={draft.near_joint} options={JOINT} onChange={put("near_joint")} />
        <ChoiceField label="right joint" value={draft.far_joint} options={JOINT} onChange={put("far_joint")} />
        {text("taken_on", "date", { type: "date" })}
        <WhoBar by={by} onChange={setBy} />
        {text("note", "note", { placeholder: "what else there is to say" })}
        <Text mt={1} fontSize="12px" color="fg.muted">
          A reading that leaves out a field or its reference proves nothing; where it is worse than planned it still
          counts against the link. Laser light is invisible: never look into a fiber or a port.
        </Text>
        <ProblemNote error={error} />
        <Button mt={1} size="xs" type="submit" disabled={draft.value_db.trim() === ""}>
          Keep the reading
        </Button>
      </form>
    </Box>
  );
}
