import { Box, Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { Labelled } from "../shared/api";

/** A label as it is written, both ends, and the piece that carries it. */
export function LabelCard({ one }: { one: Labelled }) {
  const target = one.link ? `/links/${one.link}?piece=${one.element}&lens=build` : `/site?table=${one.shelf}`;
  return (
    <Box
      borderWidth="1px"
      borderColor="border.emphasized"
      px={2}
      py={1}
      width="260px"
      fontSize="12.5px"
      data-label={one.label}
      css={{ breakInside: "avoid" }}
    >
      <Text className="figures" fontWeight={600} fontSize="15px">
        {one.label || "no label yet"}
      </Text>
      <RouterLink to={target}>{one.what}</RouterLink>
      {one.ends.map((end, i) => (
        <Text key={i} color="fg.muted">
          {one.ends.length === 1 ? "" : i === 0 ? "near end: " : "far end: "}
          {end.near}
        </Text>
      ))}
      {one.kept && !one.doubled && <Text>It was on it already, and stays.</Text>}
      {one.doubled && <Text fontWeight={600}>Another piece says the same: both get a label of their own.</Text>}
    </Box>
  );
}
