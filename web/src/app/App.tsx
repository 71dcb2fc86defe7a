import { Box, Flex, Text } from "@chakra-ui/react";
import { Navigate, Route, Routes, useParams } from "react-router";

import { ExchangePage } from "../exchange/ExchangePage";
import { Ladder } from "../ladder/Ladder";
import { LadderPage } from "../ladder/LadderPage";
import { LinkView } from "../link/LinkView";
import { ProblemNote } from "../shared/ProblemNote";
import { useLink, useLinks, useProject } from "../shared/queries";
import { Header } from "./Header";
import { HistoryPage } from "./HistoryPage";
import { useKeys } from "./useKeys";

/** The frame: header, the list of links, and the link in hand. */
export function App() {
  const project = useProject();
  const keys = useKeys(project.data?.id);
  return (
    <Flex direction="column" height="100%">
      <Header project={project.data ?? undefined} keys={keys} />
      <ProblemNote error={project.error ?? keys.error} />
      <Flex flex="1" minH={0} direction={{ base: "column", md: "row" }}>
        <Routes>
          <Route path="/links/:id" element={<Desk projectId={project.data?.id} />} />
          <Route path="/ladder" element={<LadderPage project={project.data ?? undefined} />} />
          <Route path="/exchange" element={<ExchangePage project={project.data ?? undefined} />} />
          <Route path="/log" element={<HistoryPage project={project.data ?? undefined} />} />
          <Route path="*" element={<FirstLink projectId={project.data?.id} />} />
        </Routes>
      </Flex>
    </Flex>
  );
}

function FirstLink({ projectId }: { projectId: number | undefined }) {
  const links = useLinks(projectId);
  const first = links.data?.[0];
  if (first) return <Navigate to={`/links/${first.id}`} replace />;
  return (
    <>
      <Ladder projectId={projectId} current={undefined} />
      <Box p={6} maxW="60ch">
        {links.isSuccess ? (
          <Text>
            No links yet. Add one on the left: for example from "Harbor office" to "Cold store", 185 m, 10GBASE-SR on
            OM4. Passerelle draws the whole chain and says at once whether it will light.
          </Text>
        ) : (
          <Text color="fg.muted">Reading the links …</Text>
        )}
        <ProblemNote error={links.error} />
      </Box>
    </>
  );
}

function Desk({ projectId }: { projectId: number | undefined }) {
  const id = Number(useParams().id);
  const link = useLink(Number.isFinite(id) ? id : undefined);
  return (
    <>
      <Ladder projectId={projectId} current={id} />
      {link.data ? (
        <LinkView key={id} detail={link.data} />
      ) : (
        <Box p={6}>
          {link.isPending && <Text color="fg.muted">Reading the link …</Text>}
          <ProblemNote error={link.error} />
        </Box>
      )}
    </>
  );
}
