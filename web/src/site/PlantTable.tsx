import { Box, Button, Table, Text, VisuallyHidden } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { Catalog, PlantOut } from "../shared/api";
import { Choice } from "../shared/Choice";
import { lengthText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { TypedField } from "../link/fields/TypedField";
import { type Column, type Row, type Shelf, cellText, cellValue, columns, newRow } from "./columns";

interface Props {
  shelf: Shelf;
  plant: PlantOut;
  catalog?: Catalog;
  /** Stores the plant with this shelf; answers with why not, or null. */
  store: (rows: Row[], label: string) => Promise<unknown>;
}

/** One shelf of the plant as a table: every cell is changed in place and stored at once. */
export function PlantTable({ shelf, plant, catalog, store }: Props) {
  const { unit } = useSettings();
  const rows = (plant.plant[shelf] ?? []) as unknown as Row[];
  const heads = columns(shelf, plant.plant, catalog);
  const uses = new Map(plant.cables.map((cable) => [cable.id, cable]));
  const put = (row: Row, column: Column, value: unknown) =>
    store(
      rows.map((one) => (one.id === row.id ? { ...one, [column.key]: value } : one)),
      `${row.name}: set ${column.label}`,
    );
  const count = {
    places: (plant.plant.places ?? []).length,
    ways: (plant.plant.ways ?? []).length,
    cables: (plant.plant.cables ?? []).length,
  };
  const ready = {
    places: true,
    orders: true,
    ways: count.places > 1,
    cables: count.ways > 0,
    taps: count.cables > 0,
    devices: count.places > 0,
  }[shelf];
  return (
    <Box overflowX="auto">
      <Table.Root size="sm" aria-label={shelf} width="auto">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px={1} py={1} fontSize="12px" color="fg.muted">
              id
            </Table.ColumnHeader>
            {heads.map((head) => (
              <Table.ColumnHeader key={head.key} px={1} py={1} fontSize="12px" color="fg.muted">
                {head.label}
              </Table.ColumnHeader>
            ))}
            {shelf === "cables" && (
              <Table.ColumnHeader px={1} py={1} fontSize="12px" color="fg.muted">
                length; taken, free
              </Table.ColumnHeader>
            )}
            <Table.ColumnHeader position="relative">
              <VisuallyHidden>acts</VisuallyHidden>
            </Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {rows.map((row) => {
            const use = uses.get(row.id);
            return (
              <Table.Row key={row.id} bg="transparent" data-row={row.id}>
                <Table.Cell px={1} py="1px" fontSize="12.5px" whiteSpace="nowrap">
                  {row.id}
                </Table.Cell>
                {heads.map((head) => (
                  <Table.Cell key={head.key} px={1} py="1px" minW={`${head.width}px`} maxW={`${head.width + 40}px`}>
                    <Cell row={row} column={head} onPut={(value) => put(row, head, value)} />
                  </Table.Cell>
                ))}
                {shelf === "cables" && use && (
                  <Table.Cell px={1} py="1px" whiteSpace="nowrap" fontSize="12.5px" className="figures">
                    <RouterLink to={`/site/pull?cable=${encodeURIComponent(row.id)}`}>pull sheet</RouterLink>,{" "}
                    <RouterLink to={`/site/strands?cable=${encodeURIComponent(row.id)}`}>strands</RouterLink>{" "}
                    {lengthText(use.length_m, unit)}; {Object.keys(use.use.taken).length}, {use.use.free}
                  </Table.Cell>
                )}
                <Table.Cell px={1} py="1px">
                  <Button
                    size="2xs"
                    variant="ghost"
                    aria-label={`Remove ${row.name}`}
                    onClick={() =>
                      void store(
                        rows.filter((one) => one.id !== row.id),
                        `remove ${row.name}`,
                      )
                    }
                  >
                    remove
                  </Button>
                </Table.Cell>
              </Table.Row>
            );
          })}
        </Table.Body>
      </Table.Root>
      {rows.length === 0 && (
        <Text fontSize="13px" color="fg.muted" py={1}>
          {EMPTY[shelf]}
        </Text>
      )}
      <Button
        mt={1}
        size="xs"
        variant="outline"
        disabled={!ready}
        onClick={() => void store([...rows, newRow(shelf, plant.plant)], `add ${newRow(shelf, plant.plant).name}`)}
      >
        Add a {shelf.slice(0, -1)}
      </Button>
    </Box>
  );
}

const EMPTY: Record<Shelf, string> = {
  places: "No places yet. Add the first two: for example Harbor office, and Lock house.",
  ways: "No ways yet. A way leads from one place to another: for example Quay duct, 620 m. It needs two places.",
  cables: "No cables yet. A cable lies in one way or several in their order. It needs a way.",
  taps: "No taps yet. At a tap some strands leave a cable on its way: for example strands 1, 2 at crane 1. It needs a cable.",
  devices: "No devices yet. What hangs at a place makes its demand: for example 2 sonar seats of 25 Gb/s.",
  orders: "No order lines yet. A damaged cord ends here as a line for its like; What cable can write one.",
};

function Cell({ row, column, onPut }: { row: Row; column: Column; onPut: (value: unknown) => Promise<unknown> }) {
  const value = row[column.key];
  const label = `${column.label} of ${row.id}`;
  if (column.flag)
    return (
      <input
        type="checkbox"
        aria-label={label}
        checked={value === true}
        onChange={(event) => void onPut(event.target.checked)}
      />
    );
  if (column.choices)
    return (
      <Choice
        label={label}
        width="100%"
        value={String(value ?? "")}
        options={column.choices.map((choice) => (typeof choice === "string" ? [choice, choice] : choice))}
        onChange={(next) => void onPut(next)}
      />
    );
  return (
    <TypedField
      label={label}
      hideLabel
      value={cellText(value, column.length && value !== null && value !== undefined ? "m" : "")}
      onCommit={(text) => onPut(cellValue(text, column))}
    />
  );
}
