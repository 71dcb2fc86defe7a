import { Box, Flex, Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { Catalog, LinkRow } from "../shared/api";
import { VerdictMark } from "../shared/VerdictMark";
import { lengthText, marginText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { MarginBar } from "./MarginBar";
import { MiniChain } from "./MiniChain";

interface Props {
  row: LinkRow;
  catalog?: Catalog;
  house_db: number;
  chosen: boolean;
  onChoose: () => void;
}

/** One link across the page: choose, verdict, next stage, name, ends, chain, application, length, margin. */
export function WideRow({ row, catalog, house_db, chosen, onChoose }: Props) {
  const { unit } = useSettings();
  return (
    <Flex align="center" gap={3} height="100%" borderBottomWidth="1px" bg={chosen ? "bg.muted" : undefined} _hover={{ bg: "bg.subtle" }} data-verdict={row.verdict}>
      <input type="checkbox" aria-label={`Choose ${row.name}`} checked={chosen} onChange={onChoose} style={{ marginLeft: 6 }} />
      <Flex gap={1} align="center" width="150px" flexShrink={0} fontSize="12.5px">
        <VerdictMark verdict={row.verdict} size={13} />
        {row.verdict_text}
      </Flex>
      <Text width="52px" flexShrink={0} fontSize="12.5px" color="fg.muted" hideBelow="md">
        {row.stage}
      </Text>
      <Box width="190px" flexShrink={0} fontWeight={600} truncate>
        <RouterLink to={`/links/${row.id}`}>{row.name}</RouterLink>
      </Box>
      <Text width="210px" flexShrink={0} truncate fontSize="12.5px" color="fg.muted" hideBelow="lg">
        {row.from_place} to {row.to_place}
      </Text>
      <Box flex="1" minW="80px">
        <MiniChain pieces={row.pieces} catalog={catalog} />
      </Box>
      <Text width="150px" flexShrink={0} truncate className="figures" fontSize="12px">
        {row.applications.join(" | ") || "no modules"}
      </Text>
      <Text width="72px" flexShrink={0} textAlign="end" className="figures" fontSize="12px">
        {lengthText(row.length_m, unit)}
      </Text>
      <Text width="76px" flexShrink={0} textAlign="end" className="figures" fontSize="12px">
        {marginText(row.margin_db)}
      </Text>
      <MarginBar margin_db={row.margin_db} house_db={house_db} />
    </Flex>
  );
}
