import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link as RouterLink } from "react-router";

import type { BillOut } from "../shared/api";
import { Toggle } from "../shared/Toggle";
import { STAGE_WORDS, money } from "./words";

type By = "by_link" | "by_place" | "by_stage";
const BY: readonly (readonly [By, string])[] = [
  ["by_link", "by link"],
  ["by_place", "by place"],
  ["by_stage", "by stage"],
];
const MOST = 40;

/** The sum shared among links, places or stages of building, as bars. A shared piece counts once. */
export function Shares({ out }: { out: BillOut }) {
  const [by, setBy] = useState<By>("by_link");
  const parts = out.bill[by];
  const most = Math.max(...parts.map((one) => one.total), 1);
  return (
    <Box as="section" aria-label="Shares of the sum">
      <Flex gap={1} mb={1} role="group" aria-label="Shared by">
        {BY.map(([key, words]) => (
          <Toggle key={key} words={words} on={by === key} onChange={() => setBy(key)} />
        ))}
      </Flex>
      <Heading as="h2" size="sm" fontWeight={600}>
        {money(out.bill.total)} {out.currency}
      </Heading>
      {parts.slice(0, MOST).map((one) => (
        <Box key={`${one.name} ${one.link}`} mt="3px" fontSize="13px">
          <Flex gap={2} justify="space-between">
            {one.link ? (
              <RouterLink to={`/links/${one.link}?lens=build`}>{one.name}</RouterLink>
            ) : (
              <span>{by === "by_stage" ? (STAGE_WORDS[one.name] ?? one.name) : one.name}</span>
            )}
            <span className="figures">{money(one.total)}</span>
          </Flex>
          <Box height="3px" bg="fg" opacity={0.5} width={`${(one.total / most) * 100}%`} aria-hidden />
        </Box>
      ))}
      {parts.length > MOST && <Text fontSize="13px">and {parts.length - MOST} smaller ones</Text>}
      {parts.length === 0 && (
        <Text fontSize="13px" color="fg.muted">
          Nothing is to be ordered.
        </Text>
      )}
    </Box>
  );
}
