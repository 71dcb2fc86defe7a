import { Box, Button, Flex, Grid } from "@chakra-ui/react";

import { useSettings } from "../shared/settings";
import { CardHead } from "./CardHead";
import { used } from "./lastUse";

type Way = readonly [words: string, href: string];

/** What can leave, a card each: its files, and when each last went out. */
export function OutCards({ projectId }: { projectId: number }) {
  const { unit } = useSettings();
  const base = `/api/v1/projects/${projectId}`;
  const cards: readonly (readonly [title: string, what: string, ways: readonly Way[]])[] = [
    [
      "Plan file",
      "The whole project in one JSON file, its log left out or in; the schema says what may stand in it.",
      [
        ["Plan file, JSON", `${base}/plan`],
        ["Plan file with its log", `${base}/plan?with_history=true`],
        ["Its JSON Schema", "/api/v1/plan-schema"],
      ],
    ],
    [
      "Links as a table",
      "One line for each link with its length, verdict, margin and stage.",
      [
        ["Links, CSV", `${base}/links.csv`],
        ["Links, XLSX", `${base}/links.xlsx`],
      ],
    ],
    [
      "Plan of the ways",
      "The strip plan, drawn to be printed or put into a drawing.",
      [
        ["Plan, SVG", `${base}/plant/plan.svg?unit=${unit}`],
        ["Plan, PDF", `${base}/plant/plan.pdf?unit=${unit}`],
      ],
    ],
    [
      "Package",
      "Plan file, readings, traces and pictures together, for an archive.",
      [["Package with traces and pictures", `${base}/package.zip`]],
    ],
  ];
  return (
    <Grid templateColumns="repeat(auto-fill, minmax(min(300px, 100%), 1fr))" gap={3} mt={2}>
      {cards.map(([title, what, ways]) => (
        <Box key={title} as="section" aria-label={title} borderWidth="1px" px={3} py={2}>
          <CardHead title={title} what={what} use={`out ${title}`} projectId={projectId} />
          <Flex gap={1} mt={2} wrap="wrap">
            {ways.map(([words, href]) => (
              <Button key={href} size="xs" variant="outline" asChild>
                <a href={href} download onClick={() => used(projectId, `out ${title}`, words)}>
                  {words}
                </a>
              </Button>
            ))}
          </Flex>
        </Box>
      ))}
    </Grid>
  );
}
