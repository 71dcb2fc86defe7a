import { Box, Button, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { ProblemNote } from "../shared/ProblemNote";
import { sourceText } from "../shared/format";
import { PriceTable } from "../site/PriceTable";
import { usePrices, useSetPrices } from "../shared/queries";

/** The price list of the project: out as a table, changed, and in again. */
export function PriceSection({ projectId }: { projectId: number }) {
  const prices = usePrices(projectId);
  const store = useSetPrices(projectId);
  const [currency, setCurrency] = useState("");
  const own = prices.data?.lines.filter((line) => line.own) ?? [];
  return (
    <Box as="section" aria-label="Prices" mt={6}>
      <Heading as="h2" size="md" fontWeight={600}>
        Prices of pieces and work
      </Heading>
      <Text color="fg.muted" fontSize="13px">
        {prices.data ? sourceText(prices.data.source) : ""}. Take the list out, change prices, lay it over again.
      </Text>
      <Flex gap={2} mt={1} align="center" wrap="wrap">
        <Button size="xs" variant="outline" asChild>
          <a href={`/api/v1/projects/${projectId}/prices.csv`} download>
            Price list, CSV
          </a>
        </Button>
        <label style={{ fontSize: 13 }}>
          currency{" "}
          <Input
            size="xs"
            width="90px"
            aria-label="Currency"
            borderColor="border.emphasized"
            placeholder={prices.data?.currency}
            value={currency}
            onChange={(event) => setCurrency(event.target.value)}
          />
        </label>
        <input
          type="file"
          accept=".csv,text/csv"
          aria-label="Price list file"
          onChange={async (event) => {
            const text = await event.target.files?.[0]?.text();
            if (text) store.mutate({ text, currency });
          }}
        />
      </Flex>
      <ProblemNote error={prices.error ?? store.error} />
      {own.length > 0 && (
        <Text fontSize="13px">Own prices: {own.map((line) => `${line.item} ${line.price}`).join("; ")}</Text>
      )}
      <Box mt={2}>
        <PriceTable projectId={projectId} />
      </Box>
    </Box>
  );
}
