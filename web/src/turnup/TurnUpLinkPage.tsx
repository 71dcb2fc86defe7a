import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useEffect, useMemo, useRef, useState } from "react";
import { Link as RouterLink, useParams } from "react-router";

import { Chain } from "../link/Chain";
import { layoutChain } from "../link/layout";
import { pieceName } from "../link/names";
import { useByWhom } from "../proof/who";
import type { Finding, LinkDetail, Project, TurnUpOut } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useCatalog, useLink } from "../shared/queries";
import { BeliefBars } from "./BeliefBars";
import { DarkPanel } from "./DarkPanel";
import { EndPanel } from "./EndPanel";
import { NoteForm } from "./NoteForm";
import { SignForm } from "./SignForm";
import { SituationBar } from "./SituationBar";
import { StepList } from "./StepList";
import { WhoHere, here } from "./WhoHere";
import { useDiagnosis, useReadLink, useTurnUp } from "./queries";
import { powerScale } from "./scale";
import { useSituation } from "./useSituation";

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
      {out.warnings.map((one) => (
        <Text
          key={one.words}
          mt={1}
          borderLeftWidth="3px"
          borderColor="fg"
          pl={2}
          fontSize="13px"
          data-warning={one.code}
        >
          <b>Before the second plug: {one.words}</b> {one.do}
        </Text>
      ))}
      <Differences out={out} />
      <Drawn id={id} detail={detail} out={out} project={project} dark={dark} available={available} />
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
      <StepList id={id} steps={out.turnup.steps} />
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

function useWidth(): [number, React.RefObject<HTMLDivElement | null>] {
  const box = useRef<HTMLDivElement>(null);
  const [available, setAvailable] = useState(700);
  useEffect(() => {
    if (!box.current) return;
    const observer = new ResizeObserver(([entry]) => entry && setAvailable(Math.floor(entry.contentRect.width)));
    observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  return [available, box];
}

interface DrawnProps extends WholeProps {
  dark: boolean;
  available: number;
}

/** The chain with what differs on its pieces; under it, while it is dark, where the fault is believed to be. */
function Drawn({ id, detail, out, project, dark, available }: DrawnProps) {
  const catalog = useCatalog().data;
  const [selected, setSelected] = useState<string | null>(null);
  const [situation, setSituation] = useSituation();
  const [leftOut, setLeftOut] = useState<string[]>([]);
  const found = useDiagnosis(id, project, { ...situation, leave_out: leftOut }, dark);
  const { elements } = detail.link;
  const { places, width } = layoutChain(elements, available);
  const marks = out.turnup.differences.map((one) => ({
    code: one.code,
    severity: one.severity,
    what: one.words,
    marked: [one.at],
    at: [one.at],
  })) as unknown as Finding[];
  const names = Object.fromEntries(elements.map((one) => [one.id, pieceName(one)]));
  const ends = [out.ends[0]?.place ?? "the left end", out.ends[1]?.place ?? "the right end"] as const;
  return (
    <>
      <Box overflowX="auto" tabIndex={0} role="group" aria-label="The chain" mt={2}>
        <Box width={`${width}px`}>
          <Chain
            elements={elements}
            places={places}
            findings={marks}
            selected={selected}
            onSelect={(one) => setSelected(one === selected ? null : one)}
            onKey={(event) => {
              const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
              const at = elements.findIndex((one) => `piece-${one.id}` === event.currentTarget.id);
              const target = step === undefined ? undefined : elements[at + step];
              if (target) document.getElementById(`piece-${target.id}`)?.focus();
            }}
            catalog={catalog}
          />
          {dark && found.data && !found.data.why_not && (
            <BeliefBars places={places} names={names} shares={found.data.pieces} width={width} />
          )}
        </Box>
      </Box>
      {dark && (
        <Box as="section" aria-label="Find the dark one" borderTopWidth="1px" pt={2} mt={1}>
          <Heading as="h2" size="sm" fontWeight={600} mb={1}>
            Find out why
          </Heading>
          <SituationBar situation={situation} onChange={setSituation} ends={ends} />
          <ProblemNote error={found.error} />
          {found.data && (
            <DarkPanel
              id={id}
              found={found.data}
              project={project}
              onLeaveOut={(test) => setLeftOut([...leftOut, test])}
            />
          )}
        </Box>
      )}
    </>
  );
}

function Differences({ out }: { out: TurnUpOut }) {
  if (!out.turnup.differences.length) return null;
  return (
    <Box as="ul" p={0} listStyleType="none" mt={1} fontSize="13px" aria-label="What differs from the plan">
      {out.turnup.differences.map((one) => (
        <li key={one.code + one.end + one.words} data-difference={one.code}>
          <b>{one.severity}</b>, {out.ends.find((end) => end.end === one.end)?.place}: {one.words} {one.do}
        </li>
      ))}
    </Box>
  );
}
