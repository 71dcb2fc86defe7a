import { Box, Button, Flex, Text } from "@chakra-ui/react";

import { ProblemError, worthAnotherTry } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import type { EditWish } from "./queries";

interface Props {
  error: unknown;
  mine: EditWish | undefined;
  onMine: (wish: EditWish) => void;
  onTheirs: () => void;
}

/** A change that met somebody else's: the screen shows their state, and one chooses what stands. */
export function ConflictNote({ error, mine, onMine, onTheirs }: Props) {
  const conflict = error instanceof ProblemError && error.problem.status === 409 && mine;
  if (!conflict)
    return (
      <>
        <ProblemNote error={error} />
        {mine && worthAnotherTry(error) && (
          <Button size="xs" onClick={() => onMine(mine)}>
            Try again: {mine.label || "the last change"}
          </Button>
        )}
      </>
    );
  return (
    <Box role="alert" borderWidth="1px" borderColor="fg" px={3} py={2} my={2}>
      <Text>
        {error.problem.detail}. Below is the new state; your change was: {mine.label || "the last one"}.
      </Text>
      {mine.edits.map((change, i) => (
        <Text key={i} fontSize="13px" className="figures">
          {change.op === "set" ? `${change.element}: ${JSON.stringify(change.values)}` : change.op}
        </Text>
      ))}
      <Flex gap={2} mt={1}>
        <Button size="xs" onClick={() => onMine(mine)}>
          Make my change on the new state
        </Button>
        <Button size="xs" variant="outline" onClick={onTheirs}>
          Keep the new state
        </Button>
      </Flex>
    </Box>
  );
}
