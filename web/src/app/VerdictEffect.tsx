import { Box, Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import { Bars } from "../draw/Bars";
import type { VerdictChange } from "../shared/api";
import { moves } from "./moves";

const SHOWN = 10;

/** The links whose verdict a change would move, before it is made: how many each way as bars, then by name. */
export function VerdictEffect({ changes, links = 0 }: { changes: VerdictChange[] | undefined; links?: number }) {
  if (!changes) return <Text color="fg.muted">Reviewing all links …</Text>;
  const found = moves(changes);
  const most = Math.max(1, ...found.map((move) => move.count));
  return (
    <>
      <Text fontWeight={600}>
        {changes.length === 0
          ? `No verdict changes${links ? ` in ${links} links` : ""}.`
          : `${changes.length} verdict${changes.length === 1 ? " changes" : "s change"}:`}
      </Text>
      {found.length > 0 && (
        <Box my={2}>
          <Bars
            label="Verdicts that move"
            testid="verdict-moves"
            rows={found.map((move) => ({
              key: `${move.before} to ${move.after}`,
              name: `${move.way === "better" ? "▲" : move.way === "worse" ? "▼" : "•"} ${move.before} to ${move.after}`,
              words: `${move.count} ${move.way}: ${move.before} to ${move.after}`,
              parts: [{ from: 0, to: move.count / most, look: move.way === "worse" ? "open" : "full" }],
              end: String(move.count),
            }))}
          />
          <Text fontSize="12px" color="fg.muted">
            ▲ full bar: better; ▼ open bar: worse
          </Text>
        </Box>
      )}
      {changes.slice(0, SHOWN).map((change) => (
        <Text key={change.id} fontSize="12.5px">
          <RouterLink to={`/links/${change.id}`}>{change.name}</RouterLink>: {change.before} to {change.after}
        </Text>
      ))}
      {changes.length > SHOWN && <Text fontSize="12.5px">and {changes.length - SHOWN} more</Text>}
    </>
  );
}
