import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import { Link as RouterLink, useParams } from "react-router";

import { useByWhom } from "../proof/who";
import type { LinkDetail, Project, TurnUpOut } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useLink } from "../shared/queries";
import { Differences } from "./Differences";
import { EndPanel } from "./EndPanel";
import { LinkDrawn } from "./LinkDrawn";
import { NoteForm } from "./NoteForm";
import { SignForm } from "./SignForm";
import { StepList } from "./StepList";
import { Warnings } from "./Warnings";
import { WhoHere, here } from "./WhoHere";
import { useReadLink, useTurnUp } from "./queries";
import { powerScale } from "./scale";
import { useWidth } from "../draw/useWidth";

/** The turn-up of one link: both ends along its chain, what differs on its piece, the dark one, steps, logbook. */
export function TurnUpLinkPage({ project }: { project: Project | undefined }) {
  const id = Number(useParams().id);
  const detail = useLink(Number.isFinite(id) ? id : undefined);
  const found = useTurnUp(id, project);
  return (
    <Box as="main" flex="1" minW={0} overflowY="auto" px={4} py={3}>
      <ProblemNote error={detail.error ?? found.error} />
      {detail.data && found.data ? (
        <Whole id={id} detail={detail.data} out={found.data} project={project} />
      ) : (
        !detail.error && <Text color="fg.muted">Reading the link …</Text>
      )}
    </Box>
  );
}

interface WholeProps {
  id: number;
  detail: LinkDetail;
  out: TurnUpOut;
  project: Project | undefined;
}

function Whole({ id, detail, out, project }: WholeProps) {
  const [by, setBy] = useByWhom();
  const [looking, setLooking] = useState(false);
  const read = useReadLink(id);
  const dark = looking || out.state === "dark";
  const reads = out.ends.some((end) => end.reads);
  const [available, box] = useWidth();
  const scale = useMemo(
    () =>
      powerScale(
        out.turnup.windows,
        out.lanes.flatMap((one) => [one.tx_dbm, one.rx_dbm]),
        Math.max(260, Math.min(460, available > 760 ? (available - 40) / 2 : available - 8)),
      ),
    [out, available],
  );
  return (
    <Box ref={box}>
      <Flex justify="space-between" align="baseline" wrap="wrap" gap={2}>
        <Heading as="h1" size="md" fontWeight={600}>
          {detail.link.name}: <span data-testid="turnup-state">{STATE[out.state] ?? out.state}</span>
        </Heading>
        <Flex gap={2} wrap="wrap" className="no-print">
          <Button
            size="sm"
            disabled={!reads}
            loading={read.isPending}
            loadingText="Reading"
            onClick={() => read.mutate({})}
          >
            Read both ends
          </Button>
          <Button
            size="sm"
            variant="outline"
            disabled={!reads || read.isPending}
            onClick={() => read.mutate({ write_down: true, by: here(by) })}
          >
            Read and write down
          </Button>
          <Button size="sm" variant="outline" asChild>
            <RouterLink to={`/links/${id}?lens=proof`}>Proof</RouterLink>
          </Button>
        </Flex>
      </Flex>
      <WhoHere by={by} onChange={setBy} />
      <ProblemNote error={read.error} />
      {out.turnup.why_not && <Text fontSize="13px">{out.turnup.why_not}</Text>}
      <Warnings warnings={out.warnings} />
      <Differences id={id} out={out} />
      <LinkDrawn id={id} detail={detail} out={out} project={project} dark={dark} available={available} />
      <Flex gap={5} wrap="wrap" mt={2}>
        {out.ends.map((end) => (
          <EndPanel key={end.end} id={id} end={end} out={out} scale={scale} project={project} />
        ))}
      </Flex>
      {!dark && !out.turnup.why_not && (
        <Button size="sm" variant="outline" mt={3} onClick={() => setLooking(true)}>
          It is dark, or it does not pass: find out why
        </Button>
      )}
      <StepList id={id} steps={out.turnup.steps} phases={out.phases} />
      <NoteForm id={id} log={out.log} project={project} />
      <SignForm project={project} linkId={id} name={detail.link.name} />
    </Box>
  );
}

const STATE: Record<string, string> = {
  "not begun": "not begun",
  "half read": "not all read",
  dark: "dark",
  differs: "lit, not as planned",
  lit: "lit as planned",
};
