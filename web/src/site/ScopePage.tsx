import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useSearchParams } from "react-router";

import type { Project, ScopeSheet } from "../shared/api";
import { Care } from "../shared/Care";
import { PlainTable } from "../shared/PlainTable";
import { ProblemNote } from "../shared/ProblemNote";
import { Waiting } from "../shared/Waiting";
import { Toggle } from "../shared/Toggle";
import { lengthText } from "../shared/format";
import { usePlant, usePlantQuery } from "../shared/queries";
import { useSettings } from "../shared/settings";

/** The scope for a hired contractor: cables, how to handle them, what to hand over. */
export function ScopePage({ project }: { project: Project | undefined }) {
  const { unit } = useSettings();
  const [params, setParams] = useSearchParams();
  const chosen = params.getAll("cable");
  const cables = usePlant(project).data?.plant.cables ?? [];
  const sheet = usePlantQuery<ScopeSheet>(project, "scope", { cable: chosen });
  const toggle = (id: string) =>
    setParams(
      { cable: chosen.includes(id) ? chosen.filter((one) => one !== id) : [...chosen, id] },
      { replace: true },
    );
  const search = new URLSearchParams([...chosen.map((id) => ["cable", id]), ["unit", unit]]);
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Flex
        gap={1}
        align="center"
        wrap="wrap"
        className="no-print"
        fontSize="13px"
        role="group"
        aria-label="Cables of the scope"
      >
        {cables.map((cable) => (
          <Toggle
            key={cable.id}
            words={cable.name}
            on={chosen.includes(cable.id)}
            onChange={() => toggle(cable.id)}
          />
        ))}
        <Button size="xs" variant="outline" onClick={() => window.print()}>
          Print
        </Button>
        <Button size="xs" variant="outline" asChild>
          <a href={`/api/v1/projects/${project?.id}/plant/scope.pdf?${search}`} download>
            PDF
          </a>
        </Button>
      </Flex>
      <ProblemNote error={sheet.error} />
      <Waiting on={sheet.isLoading} words="Writing the scope sheet" />
      {sheet.data && (
        <>
          <Heading as="h1" size="md" fontWeight={600} mt={2}>
            Scope of work: {project?.name}
          </Heading>
          {sheet.data.cables.length === 0 && (
            <Text>No cable is planned. Choose cables above, or set the state of one to planned.</Text>
          )}
          {sheet.data.cables.length > 0 && (
            <PlainTable
              label="Cables of the scope"
              head={[
                "cable",
                "from, to, by",
                "length",
                "strands",
                "glass and build",
                "at most",
                "radius, pull / rest",
                "still to say",
              ]}
              figures={[2, 3]}
              rows={sheet.data.cables.map((cable) => ({
                key: cable.cable,
                cells: [
                  cable.name,
                  `${cable.start} to ${cable.end}, by ${cable.ways.join(", ")}`,
                  lengthText(cable.length_m, unit),
                  cable.strands,
                  `${cable.grade || "grade open"}, ${cable.construction || "build open"}, jacket ${cable.jacket}; ends ${cable.ends.join(", ")}`,
                  cable.rated_tension_n == null ? "not known" : `${cable.rated_tension_n.toFixed(0)} N`,
                  [cable.radius_loaded_mm, cable.radius_rest_mm]
                    .map((mm) => (mm == null ? "?" : mm.toFixed(0)))
                    .join(" / ") + " mm",
                  cable.missing.join(", ") || "nothing",
                ],
              }))}
            />
          )}
          {(
            [
              ["Handle it so", sheet.data.care],
              ["Hand over", sheet.data.hand_over],
            ] as const
          ).map(([title, lines]) => (
            <Box key={title} mt={3}>
              <Heading as="h2" size="sm" fontWeight={600}>
                {title}
              </Heading>
              <Box as="ul" pl={5} fontSize="13px" listStyleType="disc">
                {lines.map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </Box>
            </Box>
          ))}
          <Care lines={sheet.data.cautions} />
        </>
      )}
    </Box>
  );
}
