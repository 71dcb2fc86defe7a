import { Text } from "@chakra-ui/react";

/** Says that something is being worked out, so that a page is never blank without a word. */
export const Waiting = ({ on, words }: { on: boolean; words: string }) =>
  on ? (
    <Text color="fg.muted" role="status" mt={2}>
      {words} …
    </Text>
  ) : null;
