import { Box, Flex, Text } from "@chakra-ui/react";

import { Choice } from "../shared/Choice";

interface Props {
  columns: readonly string[];
  fields: readonly string[];
  /** Columns that nothing was understood of; they would be left out. */
  unknown: readonly string[];
  mapping: Readonly<Record<string, string>>;
  onMap: (mapping: Record<string, string>) => void;
}

/** Fields whose name alone could be taken for another. */
const WORDS: Readonly<Record<string, string>> = { glass: "cable that is there", "new glass": "new cable" };
const said = (field: string) => WORDS[field] ?? field;

/** What each column of a table is taken for; those that were not understood stand first and can be assigned. */
export function Columns({ columns, fields, unknown, mapping, onMap }: Props) {
  const without = (field: string) => Object.fromEntries(Object.entries(mapping).filter(([key]) => key !== field));
  const free = fields.filter((field) => !mapping[field]);
  const match = (field: string, column: string) =>
    onMap(column ? { ...without(field), [field]: column } : without(field));
  return (
    <Box mt={2} fontSize="13px">
      {unknown.length > 0 && (
        <Box data-testid="unknown-columns" borderLeftWidth="3px" borderColor="fg" pl={2} mb={2}>
          <Text fontWeight={600}>Not understood, and left out unless you say what they are:</Text>
          {unknown.map((column) => (
            <Flex key={column} gap={1} align="center" mt={1}>
              {column} is{" "}
              <Choice
                label={`Meaning of ${column}`}
                value=""
                options={[["", "left out"], ...free.map((field) => [field, said(field)] as const)]}
                onChange={(field) => field && match(field, column)}
              />
            </Flex>
          ))}
        </Box>
      )}
      <Flex gap={3} wrap="wrap">
        {fields.map((field) => (
          <Flex key={field} gap={1} align="center">
            {said(field)}
            <Choice
              label={`Column for ${field}`}
              value={mapping[field] ?? ""}
              options={[["", "none"], ...columns.map((column) => [column, column] as const)]}
              onChange={(column) => match(field, column)}
            />
          </Flex>
        ))}
      </Flex>
    </Box>
  );
}
