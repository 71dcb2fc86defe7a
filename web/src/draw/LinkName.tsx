import { Box } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import { MiniChain } from "./MiniChain";
import type { Catalog, LinkRow } from "../shared/api";

interface Props {
  to: string;
  name: string;
  /** The link's row in the list; its chain is drawn once it is there, in room that is kept. */
  row: LinkRow | undefined;
  catalog: Catalog | undefined;
}

/** A link to choose, on every list of links: its name over its chain in miniature. */
export function LinkName({ to, name, row, catalog }: Props) {
  return (
    <Box width="220px" flexShrink={0}>
      <Box fontWeight={600}>
        <RouterLink to={to}>{name}</RouterLink>
      </Box>
      <Box height="14px">{row && <MiniChain pieces={row.pieces} catalog={catalog} />}</Box>
    </Box>
  );
}
