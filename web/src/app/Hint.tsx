import { Button, Flex, Text } from "@chakra-ui/react";
import { useSyncExternalStore } from "react";

const KEY = "hints-read";
const listeners = new Set<() => void>();
const read = () => localStorage.getItem(KEY) ?? "";
const listen = (changed: () => void) => {
  listeners.add(changed);
  return () => listeners.delete(changed);
};
const keep = (value: string) => {
  localStorage.setItem(KEY, value);
  for (const changed of listeners) changed();
};

/** Show all hints again, as on the first visit. */
export const showHintsAgain = () => keep("");

/** What a view is for, on the first visit; once read it stays away. */
export function Hint({ name, children }: { name: string; children: string }) {
  const seen = useSyncExternalStore(listen, read).split(" ");
  if (seen.includes(name)) return null;
  return (
    <Flex
      role="note"
      className="no-print"
      gap={3}
      align="center"
      borderWidth="1px"
      borderStyle="dashed"
      borderColor="border.emphasized"
      px={2}
      py="3px"
      mb={2}
      fontSize="13px"
    >
      <Text flex="1">{children}</Text>
      <Button size="xs" variant="ghost" onClick={() => keep([...seen, name].join(" ").trim())}>
        Got it
      </Button>
    </Flex>
  );
}
