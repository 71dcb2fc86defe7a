import { Box, Button, Flex, Heading, List, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useNavigate, useParams } from "react-router";

import { type CrossingCard, call } from "../shared/api";
import { Care } from "../shared/Care";
import { ProblemNote } from "../shared/ProblemNote";
import { Waiting } from "../shared/Waiting";
import { sourceText } from "../shared/format";

/** A card for the hand: how a pair is crossed at one plug. It prints on half a sheet. */
export function CrossingPage() {
  const { id = "", element = "" } = useParams();
  const navigate = useNavigate();
  const found = useQuery({
    queryKey: ["crossing", id, element],
    queryFn: () => call<CrossingCard>(`/links/${id}/crossing?element=${encodeURIComponent(element)}`),
    retry: false,
    staleTime: 0,
  });
  const card = found.data;
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3} maxW="720px">
      <Flex gap={2} className="no-print" mb={2}>
        <Button size="xs" variant="outline" onClick={() => navigate(`/links/${id}?piece=${element}`)}>
          Back to the link
        </Button>
        <Button size="xs" variant="outline" onClick={() => window.print()}>
          Print
        </Button>
      </Flex>
      <ProblemNote error={found.error} />
      <Waiting on={found.isLoading} words="Writing the card" />
      {card && (
        <>
          <Heading as="h1" size="md" fontWeight={600}>
            {card.title}
          </Heading>
          <Text fontSize="13px">
            Plug {card.plug}. Now {card.before}; afterwards {card.after}.
          </Text>
          <Crossed before={card.before} after={card.after} />
          <Care lines={card.caution ? [card.caution] : []} />
          <List.Root as="ol" mt={2} ps={5} gap={2}>
            {card.steps.map((step) => (
              <List.Item key={step}>{step}</List.Item>
            ))}
          </List.Root>
          <Heading as="h2" size="sm" fontWeight={600} mt={3}>
            {card.possible ? "Afterwards" : "Instead"}
          </Heading>
          {card.afterwards.map((words) => (
            <Text key={words}>{words}</Text>
          ))}
          <Text color="fg.muted" fontSize="12px" mt={3}>
            {card.source && sourceText(card.source)}
          </Text>
        </>
      )}
    </Box>
  );
}

/** The two strands between the two plugs, before and after. */
function Crossed({ before, after }: { before: string; after: string }) {
  return (
    <svg width="460" height="74" role="img" aria-label={`from ${before} to ${after}`}>
      {[before, after].map((words, i) => (
        <g key={words} transform={`translate(${i * 230} 0)`} stroke="var(--chakra-colors-fg)" fill="none">
          {words.startsWith("crossed") ? (
            <path d="M30 18C90 18 110 46 170 46M30 46C90 46 110 18 170 18" strokeWidth="2" />
          ) : (
            <path d="M30 18H170M30 46H170" strokeWidth="2" />
          )}
          {[
            [14, "A", 22],
            [14, "B", 50],
            [178, "A", 22],
            [178, "B", 50],
          ].map(([x, letter, y]) => (
            <text key={`${x}${letter}`} x={x} y={y} fontSize="13" fill="var(--chakra-colors-fg)" stroke="none">
              {letter}
            </text>
          ))}
          <text x="100" y="68" fontSize="12" textAnchor="middle" fill="var(--chakra-colors-fg)" stroke="none">
            {i ? "after" : "now"}: {words}
          </text>
        </g>
      ))}
    </svg>
  );
}
