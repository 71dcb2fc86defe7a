import { Box, Flex, Text } from "@chakra-ui/react";
import { memo } from "react";
import { Link as RouterLink } from "react-router";

import type { Catalog, LinkRow } from "../shared/api";
import { VerdictMark } from "../shared/VerdictMark";
import { lengthText, marginText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { MiniChain } from "../draw/MiniChain";

interface Props {
  row: LinkRow;
  current: boolean;
  catalog?: Catalog;
}

/** One link in the list: name, verdict in word and shape, miniature chain, application, length, margin. */
export const LadderRow = memo(function LadderRow({ row, current, catalog }: Props) {
  const { unit } = useSettings();
  return (
    <Box
      asChild
      display="block"
      px={2}
      py="6px"
      borderBottomWidth="1px"
      borderLeftWidth="4px"
      borderLeftColor={current ? "fg" : "transparent"}
      bg={current ? "bg.muted" : undefined}
      _hover={{ bg: current ? "bg.muted" : "bg.subtle" }}
      _focusVisible={{ outlineOffset: "-2px" }}
    >
      <RouterLink
        to={`/links/${row.id}`}
        id={`ladder-${row.id}`}
        aria-current={current ? "page" : undefined}
        data-verdict={row.verdict}
      >
        <Flex justify="space-between" gap={2} align="baseline">
          <Text fontWeight={600} truncate>
            {row.name}
          </Text>
          <Flex gap={1} align="center" flexShrink={0} fontSize="12px">
            <VerdictMark verdict={row.verdict} size={11} />
            {row.verdict_text}
          </Flex>
        </Flex>
        <MiniChain pieces={row.pieces} catalog={catalog} />
        <Flex justify="space-between" fontSize="11.5px" color="fg.muted" className="figures">
          <Text truncate>{row.applications.join(" | ") || "no modules"}</Text>
          <Text whiteSpace="nowrap">
            {lengthText(row.length_m, unit)}{" "}
            {row.margin_db !== null && row.verdict !== "damage" ? marginText(row.margin_db) : ""}
          </Text>
        </Flex>
        {row.acceptance && (
          <Text fontSize="11.5px" truncate>
            acceptance: {row.acceptance}
          </Text>
        )}
      </RouterLink>
    </Box>
  );
});
