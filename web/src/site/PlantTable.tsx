import { Box, Button, Table, Text, VisuallyHidden } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { Catalog, PlantOut } from "../shared/api";
import { lengthText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { PlantCell } from "./PlantCell";
import { type Column, columns } from "./columns";
import type { Row, Shelf } from "./rows";
import { FitHoles } from "./FitHoles";
import { type Frame, takenWords } from "./held";
import { HeldPieces } from "./HeldPieces";
import { AddRow } from "./AddRow";
import { EMPTY } from "./shelves";

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
  const shared = new Map(plant.shared.map((use) => [use.id, use]));
  const holds = shelf === "parts" || shelf === "frames";
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
            {holds && (
              <Table.ColumnHeader px={1} py={1} fontSize="12px" color="fg.muted">
                taken by
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
                    <PlantCell row={row} column={head} onPut={(value) => put(row, head, value)} />
                  </Table.Cell>
                ))}
                {shelf === "cables" && use && (
                  <Table.Cell px={1} py="1px" whiteSpace="nowrap" fontSize="12.5px" className="figures">
                    <RouterLink to={`/site/pull?cable=${encodeURIComponent(row.id)}`}>pull sheet</RouterLink>,{" "}
                    <RouterLink to={`/site/strands?cable=${encodeURIComponent(row.id)}`}>strands</RouterLink>{" "}
                    {lengthText(use.length_m, unit)}; {Object.keys(use.use.taken).length}, {use.use.free}
                  </Table.Cell>
                )}
                {holds && (
                  <Table.Cell px={1} py="1px" fontSize="12.5px" maxW="340px">
                    {takenWords(shared.get(row.id))}
                  </Table.Cell>
                )}
                <Table.Cell px={1} py="1px" whiteSpace="nowrap">
                  {shelf === "frames" && (
                    <FitHoles
                      frame={row as unknown as Frame}
                      catalog={catalog}
                      onFit={(held) => put(row, HELD, held)}
                    />
                  )}
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
      {(shelf === "parts" || shelf === "frames") &&
        rows.map((row) => (
          <HeldPieces
            key={row.id}
            shelf={shelf}
            row={row}
            catalog={catalog}
            store={(made, label) =>
              store(
                rows.map((one) => (one.id === row.id ? made : one)),
                label,
              )
            }
          />
        ))}
      {rows.length === 0 && (
        <Text fontSize="13px" color="fg.muted" py={1}>
          {EMPTY[shelf]}
        </Text>
      )}
      <AddRow shelf={shelf} plant={plant.plant} rows={rows} store={store} />
    </Box>
  );
}

const HELD: Column = { key: "held", label: "adapters", width: 0 };
