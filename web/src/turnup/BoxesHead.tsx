import { Button, Flex, Heading } from "@chakra-ui/react";

import type { Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useReadBoxes } from "./queries";

/** The head of a page of all boxes: its name, and the button that reads them all. */
export function BoxesHead({
  name,
  project,
  error,
}: {
  name: string;
  project: Project | undefined;
  error: unknown;
}) {
  const read = useReadBoxes(project);
  return (
    <>
      <Flex justify="space-between" align="baseline" wrap="wrap" gap={2}>
        <Heading as="h1" size="md" fontWeight={600}>
          {name}
        </Heading>
        <Button
          size="sm"
          variant="outline"
          loading={read.isPending}
          loadingText="Reading"
          onClick={() => read.mutate({})}
        >
          Read all boxes
        </Button>
      </Flex>
      <ProblemNote error={error ?? read.error} />
    </>
  );
}
