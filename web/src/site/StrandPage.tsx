import { Box, Button, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { useSearchParams } from "react-router";

import type { Project, StrandRow } from "../shared/api";
import { Choice } from "../shared/Choice";
import { HiddenTitle } from "../shared/HiddenTitle";
import { ProblemNote } from "../shared/ProblemNote";
import { Waiting } from "../shared/Waiting";
import { sourceText } from "../shared/format";
import { useCatalog, usePlant, usePlantQuery } from "../shared/queries";
import { StrandStrip } from "../draw/StrandStrip";
import { NothingYet } from "./NothingYet";
import { Swatch } from "./Swatch";

/** The strands of one cable as the closure shows them, by tube and color. It prints for the closure's lid. */
export function StrandPage({ project }: { project: Project | undefined }) {
  const [params, setParams] = useSearchParams();
  const cables = usePlant(project).data?.plant.cables;
  const id = params.get("cable") ?? cables?.[0]?.id ?? "";
  const strands = usePlantQuery<StrandRow[]>(project, "strands", { cable: id }, id !== "");
  const cable = cables?.find((one) => one.id === id);
  const codes = useCatalog().data?.marks.strands.codes ?? [];
  const code = codes.find((one) => one.name === (cable?.color_code ?? codes[0]?.name));
  const group = (cable?.grouped_in ?? "tubes").slice(0, -1);
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Flex
        gap={3}
        align="baseline"
        className="no-print"
        fontSize="13px"
        display={cables?.length === 0 ? "none" : "flex"}
      >
        cable{" "}
        <Choice
          label="Cable"
          value={id}
          options={(cables ?? []).map((one) => [one.id, one.name])}
          onChange={(chosen) => setParams({ cable: chosen }, { replace: true })}
        />
        <Button size="xs" variant="outline" onClick={() => window.print()}>
          Print
        </Button>
      </Flex>
      {!strands.data && <HiddenTitle words="Strands" />}
      {cables?.length === 0 && (
        <NothingYet needs="cable" shows="each strand in its tube and color, with what it carries" />
      )}
      <ProblemNote error={strands.error} />
      <Waiting on={strands.isLoading} words="Reading the strands" />
      {strands.data && (
        <>
          <Heading as="h1" size="md" fontWeight={600} mt={2}>
            Strands: {cable?.name ?? id}
          </Heading>
          <StrandStrip
            name={cable?.name ?? id}
            group={group}
            strands={strands.data.map((row) => ({ ...row, carries: row.use }))}
          />
          <Text fontSize="12px" color="fg.muted" mb={2}>
            Upper half: the color of the strand. Lower half filled: it carries a link; crossed: dead; empty: free.
          </Text>
          <Table.Root size="sm" width="auto" aria-label="Strands">
            <Table.Header>
              <Table.Row bg="transparent">
                {["strand", group, `in the ${group}`, "carries"].map((head) => (
                  <Table.ColumnHeader key={head} px={2} py={1} fontSize="12px" color="fg.muted">
                    {head}
                  </Table.ColumnHeader>
                ))}
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {strands.data.map((row) => (
                <Table.Row key={row.number} bg="transparent" data-strand={row.number}>
                  <Table.Cell px={2} py="2px" textAlign="end" className="figures">
                    {row.number}
                  </Table.Cell>
                  <Table.Cell px={2} py="2px">
                    <Swatch number={row.tube} color={row.tube_color} />
                  </Table.Cell>
                  <Table.Cell px={2} py="2px">
                    <Swatch number={row.position} color={row.color} />
                  </Table.Cell>
                  <Table.Cell px={2} py="2px">
                    {row.use || "free"}
                  </Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
          <Text mt={2} fontSize="12.5px" color="fg.muted">
            {cable?.reserved ? `${cable.reserved} of the free strands are kept for growth. ` : ""}
            Colors by {code?.name}: {code ? sourceText(code.source) : ""}. Another code, and how many lie in one{" "}
            {group}, are set in the table of cables.
          </Text>
        </>
      )}
    </Box>
  );
}
