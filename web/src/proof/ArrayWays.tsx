import { Box, Text } from "@chakra-ui/react";

import type { ProofOut } from "../shared/api";
import { PlainTable } from "../shared/PlainTable";
import { figureText } from "../shared/format";

/** The ways to test an array at hand: what each includes, how sure it is, what it costs in minutes and in matings. */
export function ArrayWays({ ways }: { ways: ProofOut["arrays"] }) {
  if (ways.length === 0) return null;
  const most = Math.max(...ways.map((way) => way.minutes));
  return (
    <Box mt={3} as="section" aria-label="Ways to test this array">
      <Text fontWeight={600} fontSize="13px">
        Ways to test this array
      </Text>
      <PlainTable
        label="Ways to test this array"
        head={["way", "includes", "limit dB", "± dB", "matings", "minutes", "", "wear of a reference"]}
        figures={[2, 3, 4, 5]}
        rows={ways.map((way) => ({
          key: way.name,
          strong: way.cheapest,
          cells: [
            <span key="name" title={way.words}>
              {way.name}
              {way.cheapest ? ", the quickest" : ""}
            </span>,
            way.includes,
            figureText(way.limit_db),
            figureText(way.uncertainty_db),
            way.matings,
            Math.round(way.minutes),
            <svg key="bar" width="84" height="10" aria-hidden>
              <rect width={(way.minutes / most) * 84} height="10" fill="var(--chakra-colors-fg)" />
            </svg>,
            `${(way.wear * 100).toFixed(1)} % of a ferrule`,
          ],
        }))}
      />
      <Text fontSize="12px" color="fg.muted">
        For one trunk; figures of effort and repeatability are estimates. Referencing each fiber wears ferrules out.
      </Text>
    </Box>
  );
}
