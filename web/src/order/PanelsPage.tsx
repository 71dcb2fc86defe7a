import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import { Link as RouterLink, useSearchParams } from "react-router";

import type { Project } from "../shared/api";
import { PlaceChoice } from "../shared/PlaceChoice";
import { ProblemNote } from "../shared/ProblemNote";
import { Waiting } from "../shared/Waiting";
import { Downloads } from "./Downloads";
import { PanelFrontView } from "./PanelFrontView";
import { usePanels } from "./queries";

/** The fronts of panels, to hang beside them: each port, its label, the strand behind it, where it leads. */
export function PanelsPage({ project }: { project: Project | undefined }) {
  const found = usePanels(project);
  const [params, setParams] = useSearchParams();
  const places = [...new Set((found.data ?? []).map((front) => front.place))].filter(Boolean);
  const place = params.get("place") ?? "";
  const shown = (found.data ?? []).filter((front) => !place || front.place === place);
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Flex gap={2} align="center" wrap="wrap">
        <Heading as="h1" size="md" fontWeight={600}>
          Panels
        </Heading>
        <PlaceChoice
          places={places}
          value={place}
          onChange={(next) => setParams(next ? { place: next } : {}, { replace: true })}
        />
        <Downloads
          projectId={project?.id}
          name="panels"
          kinds={["pdf"]}
          query={place ? new URLSearchParams({ place }).toString() : ""}
        />
      </Flex>
      <Text fontSize="13px" color="fg.muted" className="no-print">
        What is spliced to what, strand by strand, stands on the{" "}
        <RouterLink to="/site/closures">sheet of each closure</RouterLink>.
      </Text>
      <ProblemNote error={found.error} />
      <Waiting on={found.isLoading} words="Reading the panels" />
      {found.data?.length === 0 && (
        <Text color="fg.muted" mt={2} maxW="70ch">
          No panel stands in a link yet. A link with a panel at each end, as New link draws it, shows its ports
          here: label, strand number and color, and where each leads. A frame with numbered holes is made under Plan
          and tables.
        </Text>
      )}
      {shown.map((front) => (
        <PanelFrontView key={`${front.frame} ${front.name}`} front={front} />
      ))}
    </Box>
  );
}
