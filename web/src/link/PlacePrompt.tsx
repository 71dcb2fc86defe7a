import { Box, Button, Flex, Text } from "@chakra-ui/react";

import type { LinkDetail } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { lengthText } from "../shared/format";
import { usePlaceLink, useWays } from "./queries";
import { useSettings } from "../shared/settings";

/** Asks which way of the plan a link between two of its places takes, until it lies on one. */
export function PlacePrompt({ detail }: { detail: LinkDetail }) {
  const { unit } = useSettings();
  const ways = useWays(detail);
  const place = usePlaceLink(detail);
  if (!ways.data?.length) return null;
  return (
    <Box
      as="section"
      aria-label="Where it lies"
      className="no-print"
      borderLeftWidth="3px"
      borderColor="fg"
      pl={2}
      my={2}
      fontSize="13px"
    >
      <Text fontWeight={600}>
        Its places are on the plan; say which way it takes, so that cuts and strands count it:
      </Text>
      <Flex gap={1} wrap="wrap" mt={1}>
        {ways.data.map((way) => (
          <Button
            key={way.key}
            size="xs"
            variant="outline"
            height="auto"
            py={1}
            whiteSpace="normal"
            disabled={place.isPending}
            onClick={() => place.mutate(way.key)}
          >
            {way.words}, {lengthText(way.length_m, unit)}
          </Button>
        ))}
      </Flex>
      <ProblemNote error={ways.error ?? place.error} />
    </Box>
  );
}
