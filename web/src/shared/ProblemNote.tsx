import { Box } from "@chakra-ui/react";

import { ProblemError } from "./api";

/** An error where it happened, in the api's words: what is wrong and what to do. */
export function ProblemNote({ error, id }: { error: unknown; id?: string }) {
  if (!error) return null;
  const text = error instanceof ProblemError ? error.problem.detail : String(error);
  return (
    <Box id={id} role="alert" borderLeftWidth="3px" borderColor="fg" pl={2} py={1} my={1} fontSize="13px">
      {text}
    </Box>
  );
}
