import { Box, Button, Flex, Input } from "@chakra-ui/react";
import { useState } from "react";

import type { Arrival, BillLine, Project, WaitingLine } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { withUnit } from "../shared/format";
import { useCatalog } from "../shared/queries";
import { useSettings } from "../shared/settings";
import { asTyped } from "../shared/doubt";
import { useTakeDelivery } from "./queries";

const NOTHING = { grade: "", length: "", polish: "", coding: "" };

/** One line that came: which, how much, and what is otherwise than it was ordered. */
export function ArrivalForm({
  lines,
  ordered,
  project,
  note,
}: {
  lines: readonly BillLine[];
  ordered: ReadonlyMap<string, WaitingLine>;
  project: Project | undefined;
  note: string;
}) {
  const { unit } = useSettings();
  const grades = useCatalog().data?.fibers.map((fiber) => fiber.name) ?? [];
  const openOf = (name: string) => String(ordered.get(name)?.open || "");
  const first = lines.find((one) => openOf(one.words) !== "") ?? lines[0];
  const [words, setWords] = useState(first?.words ?? "");
  const [typed, setTyped] = useState<string | null>(null);
  const quantity = typed ?? openOf(words);
  const [other, setOther] = useState(NOTHING);
  const take = useTakeDelivery(project);
  const line = lines.find((one) => one.words === words) ?? lines[0];
  if (!line) return null;
  const put = (name: keyof typeof NOTHING) => (value: string) => setOther({ ...other, [name]: value });
  const arrival: Arrival = {
    line: line.words,
    quantity: asTyped(quantity) as number,
    grade: other.grade,
    polish: other.polish,
    coding: other.coding,
    length_m: other.length.trim() ? (withUnit(other.length, unit) as unknown as number) : null,
  };
  return (
    <Box
      as="form"
      aria-label="One line that came"
      mt={2}
      fontSize="13px"
      onSubmit={(event) => {
        event.preventDefault();
        take.mutate(
          { note, lines: [arrival], text: "", workbook: "", mapping: null, all_as_ordered: false },
          {
            onSuccess: () => {
              setTyped(null);
              setOther(NOTHING);
            },
          },
        );
      }}
    >
      <Flex gap={2} wrap="wrap" align="center">
        <Choice
          label="What came"
          value={line.words}
          width="min(100%, 560px)"
          options={lines.map((one) => [
            one.words,
            `${one.words} (${ordered.get(one.words)?.ordered ?? 0} ordered, ${openOf(one.words) || "none"} open)`,
          ])}
          onChange={(next) => {
            setWords(next);
            setTyped(null);
          }}
        />
        <Typed name={line.unit === "m" ? "meters" : "pieces"} value={quantity} onChange={setTyped} width="64px" />
      </Flex>
      <Flex gap={2} wrap="wrap" align="center" mt={1}>
        Otherwise than ordered:
        <Choice
          label="Grade that came"
          value={other.grade}
          options={[["", "the same grade"], ...grades.map((name) => [name, name] as const)]}
          onChange={put("grade")}
        />
        <Choice
          label="Polish that came"
          value={other.polish}
          options={[["", "the same polish"], ...["PC", "UPC", "APC"].map((name) => [name, name] as const)]}
          onChange={put("polish")}
        />
        <Typed name="length" value={other.length} onChange={put("length")} width="76px" />
        <Typed name="coding" value={other.coding} onChange={put("coding")} width="110px" />
        <Button size="xs" type="submit" disabled={quantity.trim() === ""} loading={take.isPending}>
          It came
        </Button>
      </Flex>
      <ProblemNote error={take.error} />
      {take.data && typed === null && (
        <Box role="status">
          {take.data.matched.length === 1 ? "Written down." : ""} {take.data.matched[0]?.told ?? ""}{" "}
          {take.data.unmatched[0]?.why ?? ""}
        </Box>
      )}
    </Box>
  );
}

function Typed({
  name,
  value,
  onChange,
  width,
}: {
  name: string;
  value: string;
  onChange: (value: string) => void;
  width: string;
}) {
  return (
    <label>
      {name}{" "}
      <Input
        size="xs"
        width={width}
        className="figures"
        borderColor="border.emphasized"
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}
