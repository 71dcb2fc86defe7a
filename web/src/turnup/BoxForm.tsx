import { Button, Flex, Input } from "@chakra-ui/react";
import { useState } from "react";

import type { BoxOut, BoxWish, Project } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { useSetBox } from "./queries";

type Row = BoxOut["row"];
const KINDS = ["switch", "router", "converter", "other"] as const;
const TREES: readonly (readonly [Row["protocol"] & string, string])[] = [
  ["unknown", "tree: not said"],
  ["RSTP", "RSTP"],
  ["STP", "STP"],
  ["MSTP", "MSTP"],
  ["none", "no tree"],
  ["other", "another tree"],
];

/** A box as it is sent. */
export const wishOf = (row: Row): BoxWish => ({
  row: row.id,
  remove: false,
  name: row.name,
  kind: row.kind,
  place: row.place,
  address: row.address,
  serial: row.serial,
  protocol: row.protocol,
  priority: row.priority,
  bridge_address: row.bridge_address,
  filters: row.filters,
  reached_through: row.reached_through,
});

const EMPTY: BoxWish = {
  row: "",
  remove: false,
  name: "",
  kind: "switch",
  place: "",
  address: "",
  serial: "",
  protocol: "unknown",
  priority: 32768,
  bridge_address: "",
  filters: false,
  reached_through: "",
};

interface Props {
  project: Project | undefined;
  places: readonly (readonly [string, string])[];
  row?: Row;
  onDone?: () => void;
}

/** Add a box, or change one. */
export function BoxForm({ project, places, row, onDone }: Props) {
  const [draft, setDraft] = useState<BoxWish>(row ? wishOf(row) : EMPTY);
  const set = useSetBox(project);
  const field = (
    key: "name" | "address" | "serial" | "bridge_address" | "reached_through",
    label: string,
    width: string,
  ) => (
    <label>
      {label}{" "}
      <Input
        size="xs"
        width={width}
        borderColor="border.emphasized"
        value={draft[key]}
        maxLength={key === "bridge_address" ? 17 : 120}
        onChange={(event) => setDraft({ ...draft, [key]: event.target.value })}
      />
    </label>
  );
  return (
    <Flex
      as="form"
      gap={2}
      wrap="wrap"
      align="center"
      mt={2}
      fontSize="13px"
      aria-label={row ? `Change ${row.name}` : "New box"}
      onSubmit={(event) => {
        event.preventDefault();
        set.mutate(draft, {
          onSuccess: () => {
            if (!row) setDraft(EMPTY);
            onDone?.();
          },
        });
      }}
    >
      {field("name", "name", "120px")}
      <Choice
        label="Kind"
        value={draft.kind ?? "switch"}
        options={KINDS.map((one) => [one, one] as const)}
        onChange={(kind) => setDraft({ ...draft, kind: kind as BoxWish["kind"] })}
      />
      <Choice
        label="Place"
        value={draft.place ?? ""}
        options={[["", "no place"], ...places]}
        onChange={(place) => setDraft({ ...draft, place })}
      />
      {field("address", "host:port", "140px")}
      {field("serial", "serial", "90px")}
      <Choice
        label="Spanning tree"
        value={draft.protocol ?? "unknown"}
        options={TREES}
        onChange={(protocol) => setDraft({ ...draft, protocol: protocol as BoxWish["protocol"] })}
      />
      <label>
        priority{" "}
        <Input
          size="xs"
          width="70px"
          type="number"
          min={0}
          max={65535}
          step={4096}
          borderColor="border.emphasized"
          value={draft.priority}
          onChange={(event) => setDraft({ ...draft, priority: Number(event.target.value) || 0 })}
        />
      </label>
      {field("bridge_address", "bridge address", "140px")}
      {field("reached_through", "reached through port", "70px")}
      <label>
        <input
          type="checkbox"
          checked={draft.filters}
          onChange={(event) => setDraft({ ...draft, filters: event.target.checked })}
        />{" "}
        drops the tree's frames
      </label>
      <Button size="xs" type="submit" disabled={!draft.name.trim()} loading={set.isPending}>
        {row ? "Change it" : "Add the box"}
      </Button>
      <ProblemNote error={set.error} />
    </Flex>
  );
}
