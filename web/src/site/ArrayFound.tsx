import { Box, Heading, Text } from "@chakra-ui/react";

import { FaceFront } from "../link/strands/FaceFront";
import type { ArraySeen } from "../shared/api";
import { sourceText } from "../shared/format";

/** What an array plug may be: each candidate as its face is seen, what it meets, what to look at next. */
export function ArrayFound({ seen }: { seen: ArraySeen }) {
  return (
    <Box as="section" aria-label="The array plug" mt={3}>
      <Heading as="h2" size="sm" fontWeight={600}>
        The array: {seen.candidates.length ? `${seen.candidates.join(" or ")} fibers` : "none is like that"}
      </Heading>
      {seen.next_look && <Text>{seen.next_look}</Text>}
      {seen.meets.map((words) => (
        <Text key={words}>{words}</Text>
      ))}
      {seen.faces.map((face) => (
        <FaceFront key={face.name} face={face} name={`${face.name} fibers`} lanes={[]} chosen={null} />
      ))}
      <Text color="fg.muted" fontSize="12px">
        {seen.sources?.map(sourceText).join("; ")}
      </Text>
    </Box>
  );
}
