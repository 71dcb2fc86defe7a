import { Table } from "@chakra-ui/react";
import type { ReactNode } from "react";

interface Props {
  label: string;
  head: readonly string[];
  rows: readonly { key: string; cells: readonly ReactNode[]; strong?: boolean }[];
  /** Columns whose cells are figures, aligned at their end. */
  figures?: readonly number[];
}

/** A table to read: a head, rows, figures aligned. */
export function PlainTable({ label, head, rows, figures = [] }: Props) {
  return (
    <Table.ScrollArea tabIndex={0} role="group" aria-label={label} whiteSpace="normal">
      <Table.Root size="sm" width="auto" aria-label={label} style={{ fontSize: 13 }}>
        <Table.Header>
          <Table.Row bg="transparent">
            {head.map((words, i) => (
              <Table.ColumnHeader
                key={i}
                px={2}
                py={1}
                fontSize="12px"
                color="fg.muted"
                whiteSpace="nowrap"
                textAlign={figures.includes(i) ? "end" : "start"}
              >
                {words}
              </Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {rows.map((row) => (
            <Table.Row key={row.key} bg="transparent" data-row={row.key} fontWeight={row.strong ? 600 : 400}>
              {row.cells.map((cell, i) => (
                <Table.Cell
                  key={i}
                  px={2}
                  py="2px"
                  verticalAlign="top"
                  className={figures.includes(i) ? "figures" : undefined}
                  whiteSpace={figures.includes(i) ? "nowrap" : undefined}
                  textAlign={figures.includes(i) ? "end" : "start"}
                >
                  {cell}
                </Table.Cell>
              ))}
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Table.ScrollArea>
  );
}
