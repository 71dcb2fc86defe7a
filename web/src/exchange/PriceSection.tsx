import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { ProblemNote } from "../shared/ProblemNote";
import { sourceText } from "../shared/format";
import { PriceTable } from "../site/PriceTable";
import { CardHead } from "./CardHead";
import { used } from "./lastUse";
import { usePrices, useSetPrices } from "../shared/queries";

/** The price list of the project: out as a table, changed, and in again. */
export function PriceSection({ projectId, given = "" }: { projectId: number; given?: string }) {
  const prices = usePrices(projectId);
  const store = useSetPrices(projectId);
  const [currency, setCurrency] = useState("");
  const lay = (text: string) => store.mutate({ text, currency }, { onSuccess: () => used(projectId, "prices") });
  const own = prices.data?.lines.filter((line) => line.own) ?? [];
  return (
    <Box as="section" aria-label="Prices" borderWidth="1px" px={3} py={2} mt={3}>
      <CardHead
        title="Prices of pieces and work"
        what={`${prices.data ? sourceText(prices.data.source) : ""}. Take the list out, change prices, lay it over again.`}
        use="prices"
        projectId={projectId}
        sample={["prices.csv", "item,price\nsplice,12\npigtail,5"]}
      />
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
            if (text) lay(text);
          }}
        />
        {given && (
          <Button size="xs" loading={store.isPending} onClick={() => lay(given)}>
            Apply price list
          </Button>
        )}
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
