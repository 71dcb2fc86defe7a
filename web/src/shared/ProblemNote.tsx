import { Box, Button, Flex } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";

import { ProblemError } from "./api";
import { answer, doubtsOf, meant } from "./doubt";

/** An error where it happened, in the api's words: what is wrong and what to do. */
export function ProblemNote({ error, id }: { error: unknown; id?: string }) {
  if (!error) return null;
  const problem = error instanceof ProblemError ? error.problem : null;
  const [doubt] = problem ? doubtsOf(problem).filter((one) => meant(one) === undefined) : [];
  return (
    <Box id={id} role="alert" borderLeftWidth="3px" borderColor="fg" pl={2} py={1} my={1} fontSize="13px">
      {problem ? problem.detail : String(error)}
      {doubt && <Readings doubt={doubt} />}
    </Box>
  );
}

/** What is only looked up is asked about in its place: the answer is read again with the one that is meant. */
function Readings({ doubt }: { doubt: ReturnType<typeof doubtsOf>[number] }) {
  const client = useQueryClient();
  return (
    <Flex gap={2} mt={1} className="no-print">
      {doubt.readings.map((reading) => (
        <Button
          key={reading}
          size="xs"
          variant="outline"
          className="figures"
          onClick={() => {
            answer(doubt, reading);
            void client.refetchQueries({ predicate: (query) => query.state.status === "error" });
          }}
        >
          {reading}
        </Button>
      ))}
    </Flex>
  );
}
