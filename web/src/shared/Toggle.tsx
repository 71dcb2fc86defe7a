import { Button } from "@chakra-ui/react";

/** One of several things that are on or off, large enough for a thumb. */
export const Toggle = ({ words, on, onChange }: { words: string; on: boolean; onChange: () => void }) => (
  <Button size="xs" variant={on ? "solid" : "outline"} aria-pressed={on} onClick={onChange}>
    {words}
  </Button>
);
