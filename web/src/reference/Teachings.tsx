import { Box, Heading, Text } from "@chakra-ui/react";

import { lengthText, sourceText } from "../shared/format";
import { useSettings } from "../shared/settings";
import type { ReferencePart } from "./part";

/** What people say, and what the clause says. */
export function Teachings({ catalog, fits }: ReferencePart) {
  const { unit } = useSettings();
  const row = (name: string, fiber: string) =>
    catalog.applications.find((one) => one.name === name)?.reaches.find((one) => one.fiber === fiber);
  return (
    <Box maxW="80ch">
      {catalog.teachings
        .filter((one) => fits(one.claim, one.answer))
        .map((one) => (
          <Box key={one.claim} as="section" mt={4}>
            <Heading as="h2" size="sm" fontWeight={600}>
              “{one.claim}”
            </Heading>
            <Text>{one.answer}</Text>
            <Text className="figures" fontSize="13px">
              {one.rows
                .map(
                  ([name, fiber]) =>
                    `${name} on ${fiber}: ${row(name, fiber) ? lengthText(row(name, fiber)?.reach_m, unit) : "no row"}`,
                )
                .join("; ")}
            </Text>
            <Text fontSize="12.5px" color="fg.muted">
              {one.sources.map(sourceText).join("; ")}
            </Text>
          </Box>
        ))}
    </Box>
  );
}
