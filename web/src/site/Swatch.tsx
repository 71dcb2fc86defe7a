import { Flex } from "@chakra-ui/react";

import { STRAND_COLORS } from "../shared/colors";

/** A strand's or tube's color, with its number and name. */
export function Swatch({ number, color }: { number: number; color: string }) {
  return (
    <Flex gap={2} align="center">
      <span className="figures">{number}</span>
      <span style={{ width: 14, height: 14, background: STRAND_COLORS[color], border: "1px solid var(--chakra-colors-fg)" }} />
      {color}
    </Flex>
  );
}
