import { Box, Flex, Heading, Text } from "@chakra-ui/react";

import type { LinkDetail } from "../shared/api";
import { VerdictMark } from "../shared/VerdictMark";
import { lengthText, marginText, rateText } from "../shared/format";
import type { EditWish } from "./queries";
import { useSettings } from "../shared/settings";
import { TypedField } from "./fields/TypedField";

/** Name, ends and verdict of the link: word, shape and the sentence that decides. */
export function VerdictLine({ detail, edit }: { detail: LinkDetail; edit: (wish: EditWish) => unknown }) {
  const { unit } = useSettings();
  const { link, review } = detail;
  const first = link.elements[0];
  const last = link.elements.at(-1);
  const places = [first, last].map((e) => (e?.kind === "port" ? e.place : "")).filter(Boolean);
  return (
    <Box as="header" mb={2}>
      <Flex gap={4} align="baseline" wrap="wrap">
        <Heading as="h1" size="lg" fontWeight={600} flex="1" minW="180px">
          <TypedField
            label="Name of the link"
            hideLabel
            value={link.name}
            onCommit={(name) => edit({ edits: [{ op: "describe", values: { name } }], label: "rename" })}
            large
          />
        </Heading>
        <Text className="figures" color="fg.muted" fontSize="13px">
          {review.applications.join(" | ") || "no modules"} ·{" "}
          {review.rate_mbps ? rateText(review.rate_mbps) : "rate?"} · {lengthText(review.length_m, unit)} · next:{" "}
          {detail.stage}
        </Text>
      </Flex>
      <Text color="fg.muted" fontSize="13px" mt={-1}>
        {places.join(" to ")}
        {link.notes ? `. ${link.notes}` : ""}
      </Text>
      <Flex
        mt={2}
        gap={2}
        align="center"
        wrap={{ base: "wrap", md: "nowrap" }}
        borderTopWidth="2px"
        borderBottomWidth="1px"
        borderTopColor="fg"
        py="6px"
        aria-live="polite"
        data-testid="verdict"
      >
        <VerdictMark verdict={review.verdict} size={20} />
        <Text fontWeight={600} fontSize="17px" textTransform="uppercase" letterSpacing="0.02em" whiteSpace="nowrap">
          {detail.verdict_text}
        </Text>
        <Box flex="1" order={{ base: 1, md: 0 }} minW={{ base: "100%", md: 0 }}>
          <Text>{review.headline}</Text>
          {detail.row.acceptance && (
            <Text fontSize="13px" data-testid="acceptance">
              The verdict is of the application. <b>Acceptance: {detail.row.acceptance}.</b>
            </Text>
          )}
          {review.verdict !== "pass" && review.verdict !== "damage" && review.dark && review.bright && (
            <Text className="figures" fontSize="12px" color="fg.muted" data-testid="both-sides">
              too little light {marginText(review.dark.margin_db)} ({review.dark.limit}), too much{" "}
              {marginText(review.bright.margin_db)} ({review.bright.limit})
            </Text>
          )}
        </Box>
        {review.margin_db !== null && review.verdict !== "damage" && (
          <Text
            className="figures"
            fontSize="17px"
            whiteSpace="nowrap"
            title={`Margin against the ${review.deciding_limit}`}
          >
            <span style={{ fontSize: "12px" }}>margin </span>
            {marginText(review.margin_db)}
          </Text>
        )}
      </Flex>
    </Box>
  );
}
