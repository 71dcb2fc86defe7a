import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useSearchParams } from "react-router";

import type { ClosureSheet, Project } from "../shared/api";
import { Choice } from "../shared/Choice";
import { PlainTable } from "../shared/PlainTable";
import { HiddenTitle } from "../shared/HiddenTitle";
import { ProblemNote } from "../shared/ProblemNote";
import { Waiting } from "../shared/Waiting";
import { usePlant, usePlantQuery } from "../shared/queries";
import { StrandStrip } from "../draw/StrandStrip";
import { NothingYet } from "./NothingYet";
import { Swatch } from "./Swatch";

/** What is done with each strand at one place. It prints for the lid of the closure. */
export function ClosurePage({ project }: { project: Project | undefined }) {
  const [params, setParams] = useSearchParams();
  const plant = usePlant(project).data?.plant;
  const taps = plant?.taps ?? [];
  const place = params.get("place") ?? taps[0]?.place ?? plant?.places?.[0]?.id ?? "";
  const sheet = usePlantQuery<ClosureSheet>(project, "closure", { place }, place !== "");
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Flex gap={3} align="center" className="no-print" fontSize="13px" display={place === "" ? "none" : "flex"}>
        at{" "}
        <Choice
          label="Place"
          value={place}
          options={(plant?.places ?? []).map((one) => [one.id, one.name])}
          onChange={(value) => setParams({ place: value }, { replace: true })}
        />
        <Button size="xs" variant="outline" onClick={() => window.print()}>
          Print
        </Button>
        <Button size="xs" variant="outline" asChild>
          <a href={`/api/v1/projects/${project?.id}/plant/closure.pdf?place=${encodeURIComponent(place)}`} download>
            PDF
          </a>
        </Button>
      </Flex>
      {!sheet.data && <HiddenTitle words="Closures" />}
      {place === "" && plant && (
        <NothingYet needs="place" shows="each cable of a place in its trays, and what is done with each strand" />
      )}
      <ProblemNote error={sheet.error} />
      <Waiting on={sheet.isLoading} words="Reading the closure" />
      {sheet.data && (
        <>
          <Heading as="h1" size="md" fontWeight={600} mt={2}>
            Strands at {sheet.data.name}
          </Heading>
          <Text fontSize="12px" color="fg.muted">
            Each cable as it lies in the trays here, tube by tube. Lower half filled: it carries a link. A wedge
            under a strand: something is done with it here; without one it passes through uncut.
          </Text>
          {sheet.data.cables.length === 0 && <Text color="fg.muted">No cable passes here.</Text>}
          {sheet.data.cables.map((cable) => {
            const rows = sheet.data.rows.filter((row) => row.cable === cable);
            const group = (rows[0]?.grouped_in ?? "tubes").slice(0, -1);
            return (
              <Box key={cable} mt={3}>
                <Heading as="h2" size="sm" fontWeight={600}>
                  {rows[0]?.cable_name}
                </Heading>
                <StrandStrip name={rows[0]?.cable_name ?? cable} group={group} strands={rows} />
                <PlainTable
                  label={`Strands of ${rows[0]?.cable_name}`}
                  head={["strand", group, `in the ${group}`, "carries", "here"]}
                  figures={[0]}
                  rows={rows.map((row) => ({
                    key: `${cable} ${row.number}`,
                    cells: [
                      row.number,
                      <Swatch key="t" number={row.tube} color={row.tube_color} />,
                      <Swatch key="p" number={row.position} color={row.color} />,
                      row.carries || "free",
                      row.does,
                    ],
                  }))}
                />
              </Box>
            );
          })}
        </>
      )}
    </Box>
  );
}
