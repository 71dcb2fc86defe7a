import { Box, Button, Flex, Text } from "@chakra-ui/react";

import { TypedField } from "../link/fields/TypedField";
import type { Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useCopyProject, useRemoveProject, useRemovedProjects, useRename, useRestoreProject } from "./queries";

/** One project of the list, renamed where it stands. */
export function ProjectLine({
  one,
  here,
  last,
  onOpen,
}: {
  one: Project;
  here: boolean;
  last: boolean;
  onOpen: () => void;
}) {
  const rename = useRename(one.id);
  const copy = useCopyProject(one.id);
  const remove = useRemoveProject();
  return (
    <Flex gap={2} align="center" mt={1} wrap="wrap" data-project={one.id}>
      <Box width="260px">
        <TypedField
          hideLabel
          label={here ? "Name of the project" : `Name of ${one.name}`}
          value={one.name}
          onCommit={(name) => rename.mutateAsync(name.trim())}
        />
      </Box>
      <Button size="xs" variant="outline" disabled={here} onClick={onOpen} aria-label={`Open ${one.name}`}>
        {here ? "open" : "Open"}
      </Button>
      <Button
        size="xs"
        variant="outline"
        loading={copy.isPending}
        onClick={() => copy.mutate(`${one.name}, copy`)}
        aria-label={`Copy ${one.name}`}
      >
        Copy
      </Button>
      <Button
        size="xs"
        variant="outline"
        disabled={last}
        title={last ? "The last project stays; begin another first" : undefined}
        onClick={() => remove.mutate(one.id)}
        aria-label={`Remove ${one.name}`}
      >
        Remove
      </Button>
      <ProblemNote error={copy.error ?? remove.error} />
    </Flex>
  );
}

/** What was removed and can be brought back whole. */
export function RemovedProjects() {
  const removed = useRemovedProjects().data ?? [];
  const restore = useRestoreProject();
  if (removed.length === 0) return null;
  return (
    <Box mt={2}>
      <Text color="fg.muted">Removed; nothing in them is lost:</Text>
      {removed.map((one) => (
        <Flex key={one.id} gap={2} align="center" mt={1}>
          {one.name}
          <Button
            size="xs"
            variant="outline"
            aria-label={`Bring back ${one.name}`}
            onClick={() => restore.mutate(one.id)}
          >
            Bring back
          </Button>
        </Flex>
      ))}
      <ProblemNote error={restore.error} />
    </Box>
  );
}
