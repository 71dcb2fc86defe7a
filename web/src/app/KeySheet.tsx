import { Button, Flex, Kbd, Text } from "@chakra-ui/react";

import { showHintsAgain } from "./Hint";

const KEYS: [string, string][] = [
  ["Ctrl K", "find or do: a link, a view, an act"],
  ["/", "filter the links"],
  ["↑ ↓", "in the list: previous, next link"],
  ["Enter", "in the list: open the link; in a field: store it"],
  ["← →", "on a piece: walk along the chain"],
  ["F", "on a piece: turn it round"],
  ["Delete", "on a piece: take it out"],
  ["Esc", "in a field: take the typing back"],
  ["Ctrl Z", "undo"],
  ["Ctrl Shift Z", "redo"],
  ["?", "this sheet"],
];

/** What the keyboard does. */
export function KeySheet() {
  return (
    <Flex gap={4} wrap="wrap" py={2} aria-label="Keys">
      {KEYS.map(([key, text]) => (
        <Flex key={key} gap={1} align="center">
          <Kbd size="sm">{key}</Kbd>
          <Text fontSize="13px">{text}</Text>
        </Flex>
      ))}
      <Button size="xs" variant="outline" onClick={showHintsAgain}>
        Show the hints again
      </Button>
    </Flex>
  );
}
