import { Box, Grid, Heading, Text } from "@chakra-ui/react";

import { Bars } from "../draw/Bars";
import { lengthScale } from "../draw/scale";
import { jacketColor } from "../shared/colors";
import { lengthText, sourceText } from "../shared/format";
import { useSettings } from "../shared/settings";
import type { ReferencePart } from "./part";

/** What people say in one column, what the clause says in the other, and the rows that it rests on as bars. */
export function Teachings({ catalog, fits }: ReferencePart) {
  const { unit } = useSettings();
  const row = (name: string, fiber: string) =>
    catalog.applications.find((one) => one.name === name)?.reaches.find((one) => one.fiber === fiber);
  const scale = lengthScale("tenfold", [10, 100_000], [0, 1], unit);
  return (
    <Box maxW="1000px">
      {catalog.teachings
        .filter((one) => fits(one.claim, one.answer))
        .map((one) => (
          <Box key={one.claim} as="section" mt={4} borderTopWidth="1px" pt={2}>
            <Grid templateColumns={{ base: "1fr", md: "1fr 1.6fr" }} gap={{ base: 1, md: 6 }}>
              <Box>
                <Text fontSize="12px" color="fg.muted">
                  is said
                </Text>
                <Heading as="h2" size="sm" fontWeight={600}>
                  “{one.claim}”
                </Heading>
              </Box>
              <Box>
                <Text fontSize="12px" color="fg.muted">
                  holds
                </Text>
                <Text>{one.answer}</Text>
                {one.rows.length > 0 && (
                  <Bars
                    label={`Reach for: ${one.claim}`}
                    ticks={scale.ticks.map(({ m, words }) => ({ at: scale.at(m), words }))}
                    rows={one.rows.map(([name, fiber]) => {
                      const found = row(name, fiber);
                      const far = found ? lengthText(found.reach_m, unit) : "no row";
                      return {
                        key: `${name} ${fiber}`,
                        name: `${name} on ${fiber}`,
                        words: `${name} on ${fiber}: ${far}`,
                        parts: found
                          ? [
                              {
                                from: 0,
                                to: scale.at(found.reach_m),
                                look: "full" as const,
                                color: jacketColor([fiber], catalog),
                              },
                            ]
                          : [],
                        end: far,
                      };
                    })}
                  />
                )}
                <Text fontSize="12.5px" color="fg.muted">
                  {one.sources.map(sourceText).join("; ")}
                </Text>
              </Box>
            </Grid>
          </Box>
        ))}
    </Box>
  );
}
