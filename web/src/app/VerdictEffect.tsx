import { Text } from "@chakra-ui/react";

import type { VerdictChange } from "../shared/api";

const SHOWN = 10;

/** The links whose verdict a change would move, before it is made. */
export function VerdictEffect({ changes }: { changes: VerdictChange[] | undefined }) {
  if (!changes) return <Text color="fg.muted">Reviewing all links …</Text>;
  return (
    <>
      <Text fontWeight={600}>
        {changes.length === 0
          ? "No verdict changes."
          : `${changes.length} verdict${changes.length === 1 ? " changes" : "s change"}:`}
      </Text>
      {changes.slice(0, SHOWN).map((change) => (
        <Text key={change.id} fontSize="12.5px">
          {change.name}: {change.before} to {change.after}
        </Text>
      ))}
      {changes.length > SHOWN && <Text fontSize="12.5px">and {changes.length - SHOWN} more</Text>}
    </>
  );
}
