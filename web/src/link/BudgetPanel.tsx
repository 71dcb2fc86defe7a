import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { LinkDetail, Review } from "../shared/api";
import { figureText, marginText } from "../shared/format";
import { WhyTables } from "./WhyTables";

/** The sums: losses of this direction, each limit with its margin, and behind Why? every figure with its source. */
export function BudgetPanel({
  review,
  way,
  link,
}: {
  review: Review;
  way: "left" | "right";
  link: LinkDetail["link"];
}) {
  const [open, setOpen] = useState(false);
  const direction = review.directions.find((d) => d.direction === way);
  if (!direction) return null;
  const { loss } = direction;
  const least = review.complete ? "" : " at least";
  return (
    <Box borderTopWidth="1px" mt={1} pt={2}>
      <Flex columnGap={4} wrap="wrap" align="baseline">
        <Text fontWeight={600} fontSize="13px">
          Loss{least}
        </Text>
        <Sum word="worst" value={loss.worst_db} />
        {loss.q975_db !== null && <Sum word="97.5 %" value={loss.q975_db} />}
        <Sum word="expected" value={loss.expected_db} />
        <Sum word="least" value={loss.least_db} />
        <Button size="xs" variant="outline" onClick={() => setOpen(!open)} aria-expanded={open}>
          Why?
        </Button>
      </Flex>
      <Flex columnGap={4} wrap="wrap" mt={1} align="baseline">
        <Text fontWeight={600} fontSize="13px">
          Margins
        </Text>
        {review.verdict === "damage" ? (
          <Text fontSize="13px" color="fg.muted">
            none counts while something would be damaged
          </Text>
        ) : review.complete && direction.limits.length > 0 ? (
          direction.limits.map((limit) => (
            <Text
              key={limit.application + limit.name}
              fontSize="13px"
              textDecoration={limit.name === review.deciding_limit ? "underline" : undefined}
            >
              {limit.name} <span className="figures">{marginText(limit.margin_db, 2)}</span>
              {limit.on_estimate ? " (estimate)" : ""}
            </Text>
          ))
        ) : (
          <Text fontSize="13px" color="fg.muted">
            {review.complete
              ? "none can be given: the ends or the glass do not belong together"
              : "none can be given: a deciding input is missing"}
          </Text>
        )}
        <Text fontSize="13px" color="fg.muted">
          house margin <span className="figures">{figureText(review.house_margin_db, 1)} dB</span>
        </Text>
      </Flex>
      {open && <WhyTables direction={direction} link={link} />}
    </Box>
  );
}

function Sum({ word, value }: { word: string; value: number }) {
  return (
    <Text fontSize="13px" data-sum={word}>
      {word} <span className="figures">{figureText(value)} dB</span>
    </Text>
  );
}
