import { Flex, Input } from "@chakra-ui/react";

/** A sheet of labels as it is bought: columns, rows, margins and gaps in mm, and how many are used up already. */
export const USUAL_GRID = {
  columns: "3",
  rows: "8",
  margin_x_mm: "8",
  margin_y_mm: "12",
  gap_x_mm: "3",
  gap_y_mm: "0",
  skip: "0",
};
export type Grid = typeof USUAL_GRID;

const FIELDS: readonly (readonly [keyof Grid, string])[] = [
  ["columns", "columns"],
  ["rows", "rows"],
  ["margin_x_mm", "side margin, mm"],
  ["margin_y_mm", "top margin, mm"],
  ["gap_x_mm", "gap across, mm"],
  ["gap_y_mm", "gap down, mm"],
  ["skip", "used already"],
];

export function GridForm({ grid, onGrid }: { grid: Grid; onGrid: (grid: Grid) => void }) {
  return (
    <Flex
      gap={2}
      wrap="wrap"
      align="center"
      fontSize="13px"
      mt={1}
      className="no-print"
      role="group"
      aria-label="Sheet"
    >
      A4 sheet:
      {FIELDS.map(([name, words]) => (
        <label key={name}>
          {words}{" "}
          <Input
            size="xs"
            width="46px"
            className="figures"
            inputMode="numeric"
            borderColor="border.emphasized"
            value={grid[name]}
            onChange={(event) => onGrid({ ...grid, [name]: event.target.value })}
          />
        </label>
      ))}
    </Flex>
  );
}
