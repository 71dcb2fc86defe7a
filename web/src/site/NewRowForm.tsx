import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Plant } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { withUnit } from "../shared/format";
import { useSettings } from "../shared/settings";
import type { Row } from "./rows";
import { lacking, newRow, onward } from "./shelves";

interface Props {
  shelf: "ways" | "cables";
  plant: Plant;
  store: (row: Row) => Promise<unknown>;
  onDone: () => void;
}

/** A new way or cable: its name and where it leads are asked before it is on the plan. */
export function NewRowForm({ shelf, plant, store, onDone }: Props) {
  const [row, setRow] = useState<Row>(() => newRow(shelf, plant));
  const [error, setError] = useState<unknown>(null);
  const { unit } = useSettings();
  const set = (values: Partial<Row>) => setRow({ ...row, ...values });
  const why = lacking(shelf, row);
  const places = (plant.places ?? []).map((place): [string, string] => [place.id, place.name]);
  const ways = row.ways as string[] | undefined;
  const nameOf = new Map((plant.ways ?? []).map((way) => [way.id, way.name]));
  const field = (label: string, width: string, key = label) => (
    <label>
      {label}{" "}
      <Input
        size="xs"
        width={width}
        borderColor="border.emphasized"
        value={String(row[key])}
        onChange={(event) => set({ [key]: event.target.value })}
      />
    </label>
  );
  const choice = (key: "start" | "end", label: string) => (
    <Choice
      label={label}
      value={String(row[key])}
      options={[["", "choose"], ...places]}
      onChange={(place) => set({ [key]: place })}
    />
  );
  return (
    <Box
      as="form"
      aria-label={`New ${shelf.slice(0, -1)}`}
      mt={2}
      p={2}
      borderWidth="1px"
      maxW="720px"
      fontSize="13px"
      onSubmit={(event) => {
        event.preventDefault();
        const made = shelf === "ways" ? { ...row, length_m: withUnit(String(row.length_m), unit) } : row;
        void store(made).then((refused) => (refused ? setError(refused) : onDone()));
      }}
    >
      <Flex gap={2} wrap="wrap" align="center">
        {field("name", "180px")}
        {shelf === "ways" && (
          <>
            <span>from</span> {choice("start", "from")} <span>to</span> {choice("end", "to")}
            {field("length", "90px", "length_m")}
          </>
        )}
        {ways && (
          <>
            <span>{ways.map((id) => nameOf.get(id)).join(", then ") || "in"}</span>
            <Choice
              label="next way"
              value=""
              options={[["", ways.length > 0 ? "and on by" : "choose a way"], ...onward(plant.ways, ways)]}
              onChange={(id) => id && set({ ways: [...ways, id] })}
            />
            {ways.length > 0 && (
              <Button size="2xs" variant="ghost" onClick={() => set({ ways: ways.slice(0, -1) })}>
                take the last one back
              </Button>
            )}
          </>
        )}
        <Button size="xs" type="submit" disabled={why !== ""}>
          Add it
        </Button>
        <Button size="xs" variant="ghost" onClick={onDone}>
          Cancel
        </Button>
      </Flex>
      {why && (
        <Text color="fg.muted" role="status">
          {why}
        </Text>
      )}
      <ProblemNote error={error} />
    </Box>
  );
}
