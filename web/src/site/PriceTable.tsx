import { Box, Button, Flex, Text } from "@chakra-ui/react";

import type { Plant, PlantOut } from "../shared/api";
import { sourceText } from "../shared/format";
import { TypedField } from "../link/fields/TypedField";

type Prices = PlantOut["prices"];

const WORDS: Record<keyof Prices, string> = {
  trench_per_m: "trench, a metre",
  duct_per_m: "duct, a metre",
  tray_per_m: "tray, a metre",
  pole_per_m: "on poles, a metre",
  pull_per_m: "pulling, a metre",
  cable_per_m: "cable, a metre",
  strand_per_m: "each strand, a metre",
  splice_each: "splice",
  panel_each: "panel",
  switch_each: "switch",
  module_each: "module",
};

/** What work and pieces cost, in the project's own units; it ranks routes and layouts. */
export function PriceTable({ plant, store }: { plant: PlantOut; store: (change: Partial<Plant>, label: string) => Promise<unknown> }) {
  const keys = Object.keys(WORDS) as (keyof Prices)[];
  return (
    <Box maxW="620px">
      <Flex wrap="wrap" gap={3}>
        {keys.map((key) => (
          <Box key={key} width="180px">
            <TypedField label={WORDS[key]} value={String(plant.prices[key])} onCommit={(text) => store({ prices: { ...plant.prices, [key]: text.trim().replace(",", ".") as unknown as number } }, `price of ${WORDS[key]}`)} />
          </Box>
        ))}
      </Flex>
      {plant.plant.prices ? (
        <Button size="xs" variant="outline" mt={2} onClick={() => void store({ prices: null }, "prices as they came")}>Back to the prices that came with it</Button>
      ) : (
        <Text fontSize="12.5px" color="fg.muted" mt={2}>{sourceText(plant.prices_source)}</Text>
      )}
    </Box>
  );
}
