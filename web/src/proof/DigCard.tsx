import { Box, Text } from "@chakra-ui/react";

import type { DigRange } from "../shared/api";
import { Care } from "../shared/Care";
import { lengthText, sourceText } from "../shared/format";
import { useSettings } from "../shared/settings";

const CARE = [
  "Before you dig: have buried utilities located and marked, and follow local codes and permits. Trenches cave in.",
  "Unplug both ends and confirm darkness with a meter before a fiber is cut or opened; glass splinters are not seen.",
];

/** Where light ends, as it is looked for: meters of sheath from a space, and the part of each pathway. */
export function DigCard({ dig }: { dig: DigRange }) {
  const { unit } = useSettings();
  const [low, high] = dig.sheath_m;
  const text = (m: number) => lengthText(m, unit);
  return (
    <Box as="section" aria-label="Where to look" mt={2} borderLeftWidth="3px" borderColor="fg" pl={3}>
      <Text fontWeight={600}>
        Where to look: {dig.cable}, {text(low)} to {text(high)} of sheath from{" "}
        {dig.near || "the end at which the trace began"}
      </Text>
      <Text>
        By light {text(dig.fiber_m[0])} to {text(dig.fiber_m[1])} of fiber. A strand is up to 3 % longer than its
        sheath{dig.slack_m ? `, and ${text(dig.slack_m)} of slack may lie at either end` : ""}. Read the marks on
        the sheath: they count from the reel, so the difference to a mark at {dig.near || "this end"} is what
        counts.
      </Text>
      {dig.spans.map((span) => (
        <Box key={span.pathway + span.start} mt={2} data-span={span.pathway}>
          <Text>
            In <b>{span.pathway}</b>, {text(span.from_m)} to {text(span.to_m)} from <b>{span.start}</b> on the way
            to {span.end} ({text(span.length_m)})
          </Text>
          <Strip from={span.from_m / span.length_m} to={span.to_m / span.length_m} ends={[span.start, span.end]} />
        </Box>
      ))}
      {dig.spans.length === 0 && (
        <Text>
          Lay the cable in its pathways on the site plan, and the spaces on both sides of the fault are named here.
        </Text>
      )}
      <Care lines={CARE} />
      <Text fontSize="12px" color="fg.muted">
        {sourceText(dig.source)}
      </Text>
    </Box>
  );
}

/** A pathway from space to space, the part in which the fault lies filled. */
function Strip({ from, to, ends }: { from: number; to: number; ends: readonly [string, string] }) {
  const x = (share: number) => 10 + 400 * Math.min(1, Math.max(0, share));
  return (
    <svg
      width="100%"
      viewBox="0 0 420 44"
      style={{ maxWidth: 420 }}
      role="img"
      aria-label={`from ${ends[0]} to ${ends[1]}, the fault between ${Math.round(from * 100)} and ${Math.round(to * 100)} % of the way`}
    >
      <line x1={x(0)} x2={x(1)} y1={14} y2={14} stroke="var(--chakra-colors-fg)" strokeWidth="2" />
      <rect x={x(from)} width={Math.max(4, x(to) - x(from))} y={6} height={16} fill="var(--chakra-colors-fg)" />
      {[0, 1].map((end) => (
        <rect key={end} x={x(end) - 4} y={8} width={8} height={12} fill="none" stroke="var(--chakra-colors-fg)" />
      ))}
      <text x={x(0) - 4} y={38} fontSize="11" fill="var(--chakra-colors-fg)">
        {ends[0]}
      </text>
      <text x={x(1) + 4} y={38} fontSize="11" textAnchor="end" fill="var(--chakra-colors-fg)">
        {ends[1]}
      </text>
    </svg>
  );
}
