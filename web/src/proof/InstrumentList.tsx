import { Box, Button, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { InstrumentRow, InstrumentWish, Project } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { useConfirm, useIdentify, useInstruments, useSetInstrument } from "./queries";

const KINDS: readonly (readonly [InstrumentRow["kind"], string])[] = [
  ["light source", "light source"],
  ["power meter", "power meter"],
  ["array meter", "wide-area meter"],
  ["position switch", "switch of positions"],
  ["trace instrument", "OTDR"],
  ["scope", "inspection scope"],
  ["fitter", "hands of a simulation"],
];
const EMPTY = {
  name: "",
  kind: "power meter" as InstrumentRow["kind"],
  address: "",
  serial: "",
  calibrated_on: "",
};

/** The instruments of the project: each by its address, asked who it is, and only where a person confirmed it. */
export function InstrumentList({ project }: { project: Project | undefined }) {
  const found = useInstruments(project);
  const set = useSetInstrument(project);
  const confirm = useConfirm(project);
  const identify = useIdentify(project);
  const [draft, setDraft] = useState(EMPTY);
  const rows = found.data?.instruments ?? [];
  const field = (key: "name" | "address" | "serial" | "calibrated_on", label: string, width: string) => (
    <label>
      {label}{" "}
      <Input
        size="xs"
        width={width}
        type={key === "calibrated_on" ? "date" : "text"}
        borderColor="border.emphasized"
        value={draft[key]}
        onChange={(event) => setDraft({ ...draft, [key]: event.target.value })}
      />
    </label>
  );
  return (
    <Box as="section" aria-label="Instruments" mt={5} fontSize="13px">
      <Heading as="h2" size="sm" fontWeight={600}>
        Instruments
      </Heading>
      <Text color="fg.muted">
        One that speaks SCPI over TCP is read by itself; one without an address is read by eye. An address that came
        with a file is asked only after you have confirmed it.
      </Text>
      <Box as="ul" p={0} listStyleType="none" mt={1}>
        {rows.map(({ row, reached }) => (
          <Flex as="li" key={row.id} gap={3} align="center" wrap="wrap" borderTopWidth="1px" py="4px">
            <Box width="180px" fontWeight={600}>
              {row.name}
            </Box>
            <Box width="130px">{KINDS.find(([kind]) => kind === row.kind)?.[1]}</Box>
            <Box width="150px" className="figures">
              {row.address || "by eye"}
            </Box>
            <Box width="190px">
              {row.serial}
              {row.calibrated_on ? `, calibrated ${row.calibrated_on}` : ""}
            </Box>
            {row.address && reached && (
              <Button size="xs" variant="outline" onClick={() => identify.mutate(row.id)}>
                Who is it?
              </Button>
            )}
            {row.address && !reached && (
              <Button size="xs" onClick={() => confirm.mutate(row.id)}>
                Confirm {row.address}
              </Button>
            )}
            <Button
              size="xs"
              variant="outline"
              aria-label={`Take out ${row.name}`}
              onClick={() => set.mutate({ ...row, row: row.id, remove: true } as InstrumentWish)}
            >
              Take out
            </Button>
            {identify.data && identify.variables === row.id && (
              <Text>
                {identify.data.maker} {identify.data.model}, serial {identify.data.serial}
              </Text>
            )}
          </Flex>
        ))}
      </Box>
      <Flex
        as="form"
        gap={2}
        align="center"
        wrap="wrap"
        mt={2}
        onSubmit={(event) => {
          event.preventDefault();
          const wish = { ...draft, calibrated_on: draft.calibrated_on || null, row: "", remove: false };
          set.mutate(wish as InstrumentWish, { onSuccess: () => setDraft(EMPTY) });
        }}
      >
        {field("name", "Name", "130px")}
        <Choice
          label="Kind"
          value={draft.kind}
          options={KINDS}
          onChange={(kind) => setDraft({ ...draft, kind: kind as InstrumentRow["kind"] })}
        />
        {field("address", "host:port", "130px")}
        {field("serial", "serial", "90px")}
        {field("calibrated_on", "calibrated", "130px")}
        <Button size="xs" type="submit" disabled={!draft.name.trim()}>
          Add the instrument
        </Button>
      </Flex>
      <ProblemNote error={set.error ?? confirm.error ?? identify.error} />
    </Box>
  );
}
