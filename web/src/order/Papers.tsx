import { Box, Heading, Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { Paper } from "../shared/api";

/** The orders that were placed and the deliveries that came; what was withdrawn stays and says so. */
export function Papers({ papers, here = false }: { papers: readonly Paper[]; here?: boolean }) {
  return (
    <Box as="section" aria-label="Orders and deliveries" mt={4}>
      <Heading as="h2" size="sm" fontWeight={600}>
        Orders and deliveries
      </Heading>
      {papers.length === 0 && (
        <Text fontSize="13px" color="fg.muted">
          None yet. An order holds what is to be ordered when it is placed; the next one holds only the difference.
        </Text>
      )}
      {papers.map((paper) => (
        <Box key={paper.key} mt={2} fontSize="13px" opacity={paper.withdrawn ? 0.7 : 1}>
          <Text fontWeight={600}>
            {paper.kind === "order" ? `Order ${paper.number}` : "Delivery"} {paper.note}
          </Text>
          <Text color="fg.muted">
            {paper.at ? new Date(paper.at).toLocaleString() : ""} {paper.who}
            {paper.withdrawn ? `, withdrawn: ${paper.withdrawn}` : ""}
          </Text>
          {paper.lines.slice(0, 6).map((line) => (
            <Text key={line.words}>
              <span className="figures">{line.quantity}</span> {line.words}
              {line.differs ? `: came as ${line.differs}` : ""}
            </Text>
          ))}
          {paper.lines.length > 6 && <Text>and {paper.lines.length - 6} lines more</Text>}
        </Box>
      ))}
      {!here && papers.some((paper) => paper.kind === "order" && !paper.withdrawn) && (
        <Text mt={2} fontSize="13px" className="no-print">
          <RouterLink to="/order/deliveries">Record delivery</RouterLink>
        </Text>
      )}
    </Box>
  );
}
