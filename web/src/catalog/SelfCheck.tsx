import { Box, Heading, Text } from "@chakra-ui/react";

import type { Catalog, CheckLine } from "../shared/api";

/** What the catalog says of itself: comparisons for the chosen application, all that is broken, and what is left out. */
export function SelfCheck({
  lines,
  absent,
  of,
}: {
  lines: CheckLine[];
  absent: NonNullable<Catalog["absent"]>;
  of: string;
}) {
  const broken = lines.filter((line) => line.outcome === "broken");
  const explained = lines.filter((line) => line.outcome === "explained");
  const mine = lines.filter((line) => of === `application/${line.application}` && line.outcome !== "kept");
  const kept = lines.filter((line) => of === `application/${line.application}` && line.outcome === "kept").length;
  if (lines.length === 0) return null;
  return (
    <Box as="section" aria-label="Self-check" mt={5} borderTopWidth="1px" pt={2} fontSize="13px" maxW="100ch">
      <Heading as="h2" size="sm" fontWeight={600}>
        Self-check
      </Heading>
      <Text data-testid="self-check">
        {lines.length} comparisons over the whole catalog: {broken.length} broken, {explained.length} not made for a
        reason, the rest kept. A check finds a slip of the pen, not a figure that is wrong in its source: whoever
        holds the document should compare it.
      </Text>
      {kept > 0 && (
        <Text>
          Here: {kept} kept (channel loss is connections plus cable over the reach; budget, launch and receiver
          figures follow from each other).
        </Text>
      )}
      {[...new Set([...broken, ...mine])].map((line, i) => (
        <Text key={i}>
          <b>{line.outcome === "broken" ? "broken" : "not made"}</b> {line.application} {line.fiber}: {line.check}.{" "}
          {line.why}
          {line.expected_db !== null && line.outcome === "broken"
            ? ` ${line.expected_db} against ${line.stated_db} dB`
            : ""}
        </Text>
      ))}
      <Heading as="h2" size="sm" fontWeight={600} mt={3}>
        Not offered
      </Heading>
      <Text color="fg.muted">
        What is sold without a confirmed clause is offered on estimate and says so; this is not offered yet.
      </Text>
      {absent.map((group) => (
        <Text key={group.names[0]}>
          <span className="figures">{group.names.join(", ")}</span>: {group.reason}
        </Text>
      ))}
    </Box>
  );
}
