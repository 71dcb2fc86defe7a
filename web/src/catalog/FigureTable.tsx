import { Box, Button, Heading, Table, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { FigureLine, OwnFigure, Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { sourceText } from "../shared/format";
import { useHouseRules } from "../shared/queries";
import { NeighborScale } from "./NeighborScale";
import { OwnFigureForm } from "./OwnFigureForm";

const same = (figure: OwnFigure, line: FigureLine) =>
  figure.shelf === line.shelf && figure.name === line.name && figure.figure === line.figure;

/** All figures of one record: value, unit, source; each can be replaced in this project and restored. */
export function FigureTable({
  project,
  lines,
  all,
}: {
  project: Project;
  lines: FigureLine[];
  /** All figures of the catalog: the neighbors of these. */
  all: readonly FigureLine[];
}) {
  const [open, setOpen] = useState<string | null>(null);
  const save = useHouseRules(project);
  const own = project.house_rules.own_figures ?? [];
  const without = (line: FigureLine) => own.filter((figure) => !same(figure, line));
  const rulesWith = (line: FigureLine, value: number, source: string) => ({
    ...project.house_rules,
    own_figures: [...without(line), { shelf: line.shelf, name: line.name, figure: line.figure, value, source }],
  });
  const first = lines[0];
  if (!first) return <Text color="fg.muted">Choose a record on the left.</Text>;
  return (
    <>
      <Heading as="h1" size="md" fontWeight={600}>
        {first.name}
      </Heading>
      <ProblemNote error={save.error} />
      <Text fontSize="12px" color="fg.muted">
        Beside each figure: a tick for the same figure of every other record on its shelf, from the lowest to the
        highest.
      </Text>
      <Table.Root size="sm" mt={1} aria-label={`Figures of ${first.name}`}>
        <Table.Body>
          {lines.map((line) => (
            <Table.Row key={line.figure} bg="transparent" data-figure={line.figure}>
              <Table.Cell py={1} px={1} verticalAlign="top" width="30%">
                {line.label}
                <Box display={{ base: "block", md: "none" }}>
                  <NeighborScale line={line} all={all} />
                </Box>
              </Table.Cell>
              <Table.Cell
                py={1}
                px={1}
                verticalAlign="top"
                textAlign="end"
                className="figures"
                whiteSpace="nowrap"
                width="1%"
              >
                {String(Number(line.value.toFixed(4))).replace("-", "−")} {line.unit}
              </Table.Cell>
              <Table.Cell
                py={1}
                px={2}
                verticalAlign="top"
                width="166px"
                minW="166px"
                display={{ base: "none", md: "table-cell" }}
              >
                <NeighborScale line={line} all={all} />
              </Table.Cell>
              <Table.Cell py={1} px={2} verticalAlign="top">
                <Text fontSize="12.5px" color="fg.muted" fontWeight={line.source.estimate ? 600 : 400}>
                  {sourceText(line.source)}
                </Text>
                {open === line.figure && (
                  <OwnFigureForm
                    project={project}
                    line={line}
                    rulesWith={rulesWith}
                    busy={save.isPending}
                    onTake={(rules) => save.mutate(rules, { onSuccess: () => setOpen(null) })}
                    onClose={() => setOpen(null)}
                  />
                )}
              </Table.Cell>
              <Table.Cell py={1} px={1} verticalAlign="top" textAlign="end" whiteSpace="nowrap" width="1%">
                {line.own && (
                  <Button
                    size="xs"
                    variant="outline"
                    mr={1}
                    aria-label={`Restore ${line.label}`}
                    onClick={() => save.mutate({ ...project.house_rules, own_figures: without(line) })}
                  >
                    Restore
                  </Button>
                )}
                <Button
                  size="xs"
                  variant="outline"
                  aria-label={`Own figure for ${line.label}`}
                  aria-expanded={open === line.figure}
                  onClick={() => setOpen(open === line.figure ? null : line.figure)}
                >
                  Own figure
                </Button>
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </>
  );
}
