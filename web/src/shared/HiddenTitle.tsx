import { VisuallyHidden } from "@chakra-ui/react";

/** The first heading of a page that shows what it is without one. */
export const HiddenTitle = ({ words }: { words: string }) => (
  <VisuallyHidden asChild>
    <h1>{words}</h1>
  </VisuallyHidden>
);
