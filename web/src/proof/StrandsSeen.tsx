import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { LinkDetail, ProofOut } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { useSeeStrands } from "./queries";
import { type ByWhom, signed } from "./who";

const SHOWN = 24;

/** Polarity before loss: where each near strand should come out, and where it was seen. */
export function StrandsSeen({ out, detail, by }: { out: ProofOut; detail: LinkDetail; by: ByWhom }) {
  const { strands, start, end } = out.proof;
  const see = useSeeStrands(detail);
  const [own, setOwn] = useState<Record<number, number>>({});
  if (strands.length === 0) return null;
  const far = [...new Set(strands.map((one) => one.planned).filter(Boolean))].sort((a, b) => a - b);
  const wrong = strands.filter((one) => one.seen !== null && one.seen !== one.planned);
  const seen = strands.filter((one) => one.seen !== null).length;
  const record = (all: boolean) =>
    see.mutate(
      {
        ...signed(by),
        start,
        end,
        pairs: strands.map((one) => [one.near, all ? one.planned : (own[one.near] ?? one.seen ?? one.planned)]),
      },
      { onSuccess: () => setOwn({}) },
    );
  return (
    <Box as="section" aria-label="Where strands come out" mt={3} fontSize="13px">
      <Text fontWeight={600}>
        Polarity first: {seen} of {strands.length} strands seen
        {wrong.length ? `, ${wrong.length} elsewhere than planned` : ""}
      </Text>
      <Text color="fg.muted" fontSize="12px">
        A visible source shows its laser class on its label and is no toy: never into an eye, both ends unplugged.
      </Text>
      <Flex gap={3} wrap="wrap" mt={1} as="ul" listStyleType="none">
        {strands.slice(0, SHOWN).map((one) => (
          <Flex key={one.near} as="li" gap={1} align="center" data-strand={one.near}>
            <span className="figures">{one.near} →</span>
            <Choice
              label={`Strand ${one.near} comes out at`}
              value={String(own[one.near] ?? one.seen ?? one.planned)}
              options={[
                ...far.map((p) => [String(p), p === one.planned ? `${p}, as planned` : String(p)] as const),
                ["0", "nowhere"],
              ]}
              onChange={(value) => setOwn({ ...own, [one.near]: Number(value) })}
            />
            {one.seen !== null && (
              <b>{one.seen === one.planned ? "seen" : `seen at ${one.seen || "no end"}, planned ${one.planned}`}</b>
            )}
          </Flex>
        ))}
      </Flex>
      <Flex gap={2} mt={1} className="no-print">
        <Button size="sm" variant="outline" loading={see.isPending} onClick={() => record(true)}>
          All came out as planned
        </Button>
        <Button size="sm" variant="outline" disabled={Object.keys(own).length === 0} onClick={() => record(false)}>
          Record as chosen
        </Button>
      </Flex>
      {wrong.length === 2 && wrong[0]?.seen === wrong[1]?.planned && wrong[1]?.seen === wrong[0]?.planned && (
        <Text mt={1} data-testid="swapped">
          <b>Swapped pair.</b> The two strands are exchanged for each other: turn one plug of the pair at one end,
          not both, or find the swap in a tray.
        </Text>
      )}
      <ProblemNote error={see.error} />
    </Box>
  );
}
