import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useSearchParams } from "react-router";

import type { LabelsOut, Project } from "../shared/api";
import { PlaceChoice } from "../shared/PlaceChoice";
import { ProblemNote } from "../shared/ProblemNote";
import { Waiting } from "../shared/Waiting";
import { Downloads } from "./Downloads";
import { GridForm, USUAL_GRID } from "./GridForm";
import { LabelCard } from "./LabelCard";
import { useGiveLabels, useLabels } from "./queries";

const MOST = 60;

/** Labels for both ends of everything: given once, printed on sheets of one's own grid, each with a code that opens it. */
export function LabelsPage({ project }: { project: Project | undefined }) {
  const [params, setParams] = useSearchParams();
  const place = params.get("place") ?? "";
  const found = useLabels(project, place);
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Heading as="h1" size="md" fontWeight={600}>
        Labels
      </Heading>
      <ProblemNote error={found.error} />
      <Waiting on={found.isLoading} words="Reading what carries a label" />
      {found.data && (
        <Labels
          out={found.data}
          project={project}
          place={place}
          onPlace={(next) => setParams(next ? { place: next } : {}, { replace: true })}
        />
      )}
    </Box>
  );
}

function Labels({
  out,
  project,
  place,
  onPlace,
}: {
  out: LabelsOut;
  project: Project | undefined;
  place: string;
  onPlace: (place: string) => void;
}) {
  const give = useGiveLabels(project);
  const [grid, setGrid] = useState(USUAL_GRID);
  const bare = out.labels.filter((one) => !one.label || one.doubled);
  const query = new URLSearchParams({ ...grid, place }).toString();
  return (
    <>
      <Flex gap={2} wrap="wrap" align="center" mt={1} className="no-print">
        <PlaceChoice places={out.places} value={place} onChange={onPlace} />
        <Button
          size="xs"
          disabled={bare.length === 0}
          loading={give.isPending}
          onClick={() => give.mutate({ keys: bare.map((one) => one.key) })}
        >
          {bare.length > 0 ? `Give ${bare.length} labels` : "All have their label"}
        </Button>
        <Downloads projectId={project?.id} name="labels" kinds={["pdf", "csv", "xlsx", "json"]} query={query} />
      </Flex>
      <GridForm grid={grid} onGrid={setGrid} />
      <ProblemNote error={give.error} />
      {out.loopback && (
        <Text role="note" fontSize="13px" borderLeftWidth="3px" borderColor="fg" pl={2} my={1} maxW="80ch">
          The codes lead to {out.base_address}, which only this machine can open. Set the address of this
          installation under House rules before labels are printed, and they open from a phone in the riser.
        </Text>
      )}
      {out.labels.length === 0 && (
        <Text color="fg.muted" mt={2} maxW="70ch">
          Nothing carries a label yet. The cables, cords, panels and boxes of links and plan stand here as soon as
          there are some; each gets one identifier that never changes, whatever is put in later.
        </Text>
      )}
      <Flex wrap="wrap" gap={2} mt={2}>
        {out.labels.slice(0, MOST).map((one) => (
          <LabelCard key={one.key} one={one} />
        ))}
      </Flex>
      {out.labels.length > MOST && (
        <Text fontSize="13px" mt={2}>
          and {out.labels.length - MOST} more, all of them in the files; choose a place to see its own.
        </Text>
      )}
    </>
  );
}
