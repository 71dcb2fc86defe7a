import { Box, Heading } from "@chakra-ui/react";
import { useState } from "react";

import { Chain } from "../link/Chain";
import { layoutChain } from "../link/layout";
import { pieceName } from "../link/names";
import type { Finding, LinkDetail, Project, TurnUpOut } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useCatalog } from "../shared/queries";
import { BeliefBars } from "./BeliefBars";
import { DarkPanel } from "./DarkPanel";
import { SituationBar } from "./SituationBar";
import { useDiagnosis } from "./queries";
import { useSituation } from "./useSituation";

interface Props {
  id: number;
  detail: LinkDetail;
  out: TurnUpOut;
  project: Project | undefined;
  dark: boolean;
  available: number;
}

/** The chain with what differs on its pieces; under it, while it is dark, where the fault is believed to be. */
export function LinkDrawn({ id, detail, out, project, dark, available }: Props) {
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
          <SituationBar situation={situation} onChange={setSituation} ends={ends} tools={found.data?.tools ?? []} />
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
