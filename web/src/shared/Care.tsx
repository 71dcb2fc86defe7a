import { Text } from "@chakra-ui/react";

/** The usual cautions at a piece of work. */
export const Care = ({ lines }: { lines: readonly string[] }) =>
  lines.map((words) => (
    <Text key={words} mt={2} borderLeftWidth="3px" borderColor="fg" pl={2} fontSize="13px">
      {words}
    </Text>
  ));
