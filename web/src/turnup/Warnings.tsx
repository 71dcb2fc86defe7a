import { Text } from "@chakra-ui/react";

import type { NetworkOut } from "../shared/api";

/** What must be known before a plug goes in, each with what to do and the links that it is about. */
export function Warnings({ warnings, links = false }: { warnings: NetworkOut["warnings"]; links?: boolean }) {
  return warnings.map((one) => (
    <Text
      key={one.words}
      borderLeftWidth="3px"
      borderColor="fg"
      pl={2}
      my={1}
      fontSize="13px"
      data-warning={one.code}
    >
      <b>
        {links ? "" : "Before the second plug: "}
        {one.words}
      </b>{" "}
      {one.do}
      {links ? ` (${one.links.join(", ")})` : ""}
    </Text>
  ));
}
