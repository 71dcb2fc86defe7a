import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { TypedField } from "../link/fields/TypedField";
import { ProblemNote } from "../shared/ProblemNote";
import { sourceText } from "../shared/format";
import { usePrices, useSetPrices } from "../shared/queries";

const SHOWN = 24;

/** One line of a price table: an item that has a comma or a quote is quoted, as CSV has it. */
const csvLine = (item: string, price: string) => `"${item.replaceAll('"', '""')}",${price}`;

/** The one price list of a project, in its own units: it ranks answers, routes and layouts. */
export function PriceTable({ projectId }: { projectId: number }) {
  const prices = usePrices(projectId);
  const store = useSetPrices(projectId);
  const [sought, setSought] = useState("");
  const [all, setAll] = useState(false);
  const lines = prices.data?.lines ?? [];
  const found = lines
    .filter((line) => line.item.toLowerCase().includes(sought.trim().toLowerCase()))
    .toSorted((a, b) => Number(b.own) - Number(a.own));
  const set = (item: string, price: string) =>
    store.mutateAsync({ text: `item,price\n${csvLine(item, price)}\n`, currency: "" });
  return (
    <Box maxW="760px">
      <Flex gap={2} align="center" mb={2} wrap="wrap">
        <Input
          size="xs"
          width="220px"
          aria-label="Find an item"
          placeholder="find: splice, panel, LR"
          borderColor="border.emphasized"
          value={sought}
          onChange={(event) => setSought(event.target.value)}
        />
        <Text fontSize="12.5px" color="fg.muted">
          {found.length} of {lines.length} items, in {prices.data?.currency ?? "units"}; your own first.{" "}
          {prices.data ? sourceText(prices.data.source) : ""}
        </Text>
      </Flex>
      <ProblemNote error={prices.error ?? store.error} />
      <Flex wrap="wrap" gap={3}>
        {(all ? found : found.slice(0, SHOWN)).map((line) => (
          <Box key={line.item} width="180px">
            <TypedField
              label={line.item}
              value={String(line.price)}
              onCommit={(text) => set(line.item, text.trim())}
            />
            {line.own && (
              <Button size="2xs" variant="ghost" onClick={() => void set(line.item, String(line.came_with))}>
                came with {line.came_with}
              </Button>
            )}
          </Box>
        ))}
      </Flex>
      {found.length > SHOWN && (
        <Button size="xs" variant="outline" mt={2} onClick={() => setAll(!all)}>
          {all ? "Fewer" : `${found.length - SHOWN} more`}
        </Button>
      )}
    </Box>
  );
}
