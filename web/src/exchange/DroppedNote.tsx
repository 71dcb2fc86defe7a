import { Box, Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { Dropped, Held } from "./dropped";

const TAKEN: Partial<Record<Held, string>> = {
  plan: "It is a plan file: press Add its links below, or open it as a project of its own in the project menu.",
  links: "It is a table of links: it stands below, with what would be made.",
  prices: "It is a price list: press Apply price list below.",
  plant: "It is a table of the plant: it stands below, with what would change.",
  geojson: "It is a map: it stands below, with what would be new.",
};

/** What a dropped file was understood as, and where it goes on. */
export function DroppedNote({ dropped }: { dropped: Dropped }) {
  const { held, name } = dropped;
  return (
    <Box role="status" borderLeftWidth="3px" borderColor="fg" pl={3} my={2} data-testid="dropped">
      <Text>
        <b>{name}</b>. {TAKEN[held]}
        {held === "package" && (
          <>
            It is a package: a signed hand-over is checked under{" "}
            <RouterLink to="/turnup/handover">Hand over</RouterLink>; choose the file there.
          </>
        )}
        {held === "readings" && (
          <>
            It looks like readings: choose it under <RouterLink to="/test">Left to test</RouterLink>, Readings from
            a table.
          </>
        )}
        {held === "trace" && (
          <>
            It is a trace: open its link from <RouterLink to="/test">Left to test</RouterLink>, and choose it in the
            Proof lens.
          </>
        )}
        {held === "unknown" && (
          <>
            It is no plan file, no map, and its first line names no columns that are known here. For a table, the
            first line names its columns: take a sample below and compare. A workbook is chosen at its own card.
          </>
        )}
      </Text>
    </Box>
  );
}
