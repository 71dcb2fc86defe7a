import { Box } from "@chakra-ui/react";
import type { ReactNode } from "react";

import { useWidth } from "./useWidth";

/** A box that tells its drawing how wide it may be; its height is kept while it is measured, so nothing jumps. */
export function Fitted({
  most,
  height,
  children,
}: {
  most: number;
  height: number;
  children: (width: number) => ReactNode;
}) {
  const [available, box] = useWidth();
  return (
    <Box ref={box} width="100%" maxW={`${most}px`} minH={`${height}px`}>
      {children(Math.min(most, Math.max(280, available)))}
    </Box>
  );
}
