import { Box, Button, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useSearchParams } from "react-router";

import { useCatalog } from "../shared/queries";
import { BendTable } from "./BendTable";
import { CageTable } from "./CageTable";
import { ColorTable } from "./ColorTable";
import { CopperTable } from "./CopperTable";
import { ReachTable } from "./ReachTable";
import { Teachings } from "./Teachings";

const PARTS = [
  ["reach", "Reach", ReachTable],
  ["copper", "Copper", CopperTable],
  ["colors", "Colors", ColorTable],
  ["plugs", "Plugs and cages", CageTable],
  ["bends", "Bends", BendTable],
  ["teachings", "Disputed teachings", Teachings],
] as const;

/** What one looks up in the field: reach by grade, colors, plugs, cages, bends, and answers to disputed teachings. */
export function ReferencePage() {
  const catalog = useCatalog().data;
  const [params, setParams] = useSearchParams();
  const part = params.get("part") ?? "reach";
  const [text, setText] = useState(params.get("find") ?? ""); // typed: it must not wait for the address
  const put = (next: Record<string, string>) =>
    setParams((before) => ({ ...Object.fromEntries(before), ...next }), { replace: true });
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const fits = (...cells: string[]) => words.every((word) => cells.join(" ").toLowerCase().includes(word));
  const Shown = PARTS.find(([key]) => key === part)?.[2] ?? ReachTable;
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Flex gap={2} align="center" wrap="wrap" className="no-print">
        <Heading as="h1" size="md" fontWeight={600}>
          Reference
        </Heading>
        {PARTS.map(([key, title]) => (
          <Button
            key={key}
            size="sm"
            variant={key === part ? "solid" : "outline"}
            aria-pressed={key === part}
            onClick={() => put({ part: key })}
          >
            {title}
          </Button>
        ))}
        <Input
          size="sm"
          width="220px"
          placeholder="find: SR OM4"
          aria-label="Find in the reference"
          borderColor="border.emphasized"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <Button size="sm" variant="outline" onClick={() => window.print()}>
          Print
        </Button>
      </Flex>
      {catalog ? <Shown catalog={catalog} fits={fits} /> : <Text color="fg.muted">Reading the catalog …</Text>}
    </Box>
  );
}
