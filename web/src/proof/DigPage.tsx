import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useNavigate, useParams } from "react-router";

import { ProblemNote } from "../shared/ProblemNote";
import { useLink } from "../shared/queries";
import { DigCard } from "./DigCard";
import { useTraceTaken } from "./queries";

/** Where the light of a trace ends, as a card to print and take along. */
export function DigPage() {
  const { id = "", event = "" } = useParams();
  const go = useNavigate();
  const link = useLink(Number(id));
  const found = useTraceTaken(Number(id), event);
  const view = found.data;
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3} maxW="720px" fontSize="14px">
      <Flex gap={2} className="no-print" mb={2}>
        <Button size="xs" variant="outline" onClick={() => go(`/links/${id}?lens=proof`)}>
          Back to the link
        </Button>
        <Button size="xs" variant="outline" onClick={() => window.print()}>
          Print
        </Button>
      </Flex>
      <ProblemNote error={found.error ?? link.error} />
      {view && (
        <>
          <Heading as="h1" size="md" fontWeight={600}>
            {link.data?.link.name}: strand {view.strand}, {view.wavelength_nm} nm
          </Heading>
          <Text>{view.judged?.words.join(" ")}</Text>
          {view.dig ? <DigCard dig={view.dig} /> : <Text>This trace does not end early.</Text>}
        </>
      )}
    </Box>
  );
}
