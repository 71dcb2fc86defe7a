import { Box, Button, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { Link as RouterLink, useSearchParams } from "react-router";

import type { Project, StrandRow } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { Waiting } from "../shared/Waiting";
import { sourceText } from "../shared/format";
import { useCatalog, usePlant, usePlantQuery } from "../shared/queries";
import { Swatch } from "./Swatch";

/** The strands of one cable as the closure shows them, by tube and color. It prints for the closure's lid. */
export function StrandPage({ project }: { project: Project | undefined }) {
  const [params] = useSearchParams();
  const id = params.get("cable") ?? "";
  const strands = usePlantQuery<StrandRow[]>(project, "strands", { cable: id }, id !== "");
  const cable = usePlant(project).data?.plant.cables?.find((one) => one.id === id);
  const marks = useCatalog().data?.marks;
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3} maxW="720px">
      <Flex gap={3} align="baseline" className="no-print" fontSize="13px">
        <RouterLink to="/site?table=cables">Site</RouterLink>
        <Button size="xs" variant="outline" onClick={() => window.print()}>
          Print
        </Button>
      </Flex>
      <ProblemNote error={strands.error} />
      <Waiting on={strands.isLoading} words="Reading the strands" />
      {strands.data && (
        <>
          <Heading as="h1" size="md" fontWeight={600} mt={2}>
            Strands: {cable?.name ?? id}
          </Heading>
          <Table.Root size="sm" width="auto" aria-label="Strands">
            <Table.Header>
              <Table.Row bg="transparent">
                {["strand", "tube", "in the tube", "carries"].map((head) => (
                  <Table.ColumnHeader key={head} px={2} py={1} fontSize="12px" color="fg.muted">{head}</Table.ColumnHeader>
                ))}
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {strands.data.map((row) => (
                <Table.Row key={row.number} bg="transparent" data-strand={row.number}>
                  <Table.Cell px={2} py="2px" textAlign="end" className="figures">{row.number}</Table.Cell>
                  <Table.Cell px={2} py="2px"><Swatch number={row.tube} color={row.tube_color} /></Table.Cell>
                  <Table.Cell px={2} py="2px"><Swatch number={row.position} color={row.color} /></Table.Cell>
                  <Table.Cell px={2} py="2px">{row.use || "free"}</Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
          <Text mt={2} fontSize="12.5px" color="fg.muted">
            {cable?.reserved ? `${cable.reserved} of the free strands are kept for growth. ` : ""}
            Colors: {marks ? sourceText(marks.strands.source) : ""}; a cable of another scheme says so in its datasheet.
          </Text>
        </>
      )}
    </Box>
  );
}
