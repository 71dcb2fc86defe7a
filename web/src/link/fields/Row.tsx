import { Box, Flex, chakra } from "@chakra-ui/react";
import type { ReactNode } from "react";

/** A label and its control on one line. */
export function Row({ label, htmlFor, children }: { label: string; htmlFor?: string; children: ReactNode }) {
  return (
    <Flex gap={2} mt="6px" align="flex-start">
      <chakra.label htmlFor={htmlFor} width="72px" flexShrink={0} fontSize="13px" color="fg.muted" pt="3px">
        {label}
      </chakra.label>
      <Box flex="1" minW={0}>
        {children}
      </Box>
    </Flex>
  );
}
