import { Text } from "@chakra-ui/react";

import { TypedField } from "../link/fields/TypedField";
import { Choice } from "../shared/Choice";
import { type Column, cellText, cellValue } from "./columns";
import type { Row } from "./rows";

/** One cell of a table of the plant, stored as it is changed. */
export function PlantCell({
  row,
  column,
  onPut,
}: {
  row: Row;
  column: Column;
  onPut: (value: unknown) => Promise<unknown>;
}) {
  const value = row[column.key];
  const label = `${column.label} of ${row.id}`;
  if (column.said) return <Text fontSize="12.5px">{column.said(row)}</Text>;
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
        options={column.choices
          .map((choice): readonly [string, string] => (typeof choice === "string" ? [choice, choice] : choice))
          .filter(([choice]) => !column.apart || choice !== row[column.apart])}
        onChange={(next) => void onPut(next)}
      />
    );
  return (
    <TypedField
      label={label}
      hideLabel
      value={cellText(value, column.length && value !== null && value !== undefined ? "m" : "", column)}
      onCommit={(text) => onPut(cellValue(text, column))}
    />
  );
}
