import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { LinkDetail, ProofRow } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useProject } from "../shared/queries";
import type { Place } from "../link/layout";
import { lossScale } from "./bands";
import { ArrayWays } from "./ArrayWays";
import { CopperProof } from "./CopperProof";
import { FaceCard } from "./FaceCard";
import { FaceMarks, faceKey } from "./FaceMarks";
import { ArrayButton } from "./ArrayButton";
import { PlanList } from "./PlanList";
import { ReadingRow } from "./ReadingRow";
import { ReferenceChoice } from "./ReferenceChoice";
import { ScaleHead } from "./RowScale";
import { StrandsSeen } from "./StrandsSeen";
import { StretchMark } from "./StretchMark";
import { TraceSection } from "./TraceSection";
import { WhoBar } from "./WhoBar";
import { useInstruments, useMeasureReading, useProof, useTakeReading } from "./queries";
import { signed, useByWhom } from "./who";

interface Props {
  detail: LinkDetail;
  places: readonly Place[];
  width: number;
  available: number;
}

const key = (row: ProofRow) => `${row.strand}-${row.wavelength_nm}-${row.direction}`;

/** The Proof lens: faces, where instruments sit, and a row for each reading with what it should be. */
export function ProofLens({ detail, places, width, available }: Props) {
  const found = useProof(detail);
  const take = useTakeReading(detail);
  const measure = useMeasureReading(detail);
  const instruments = useInstruments(useProject().data).data?.instruments ?? [];
  const has = (kind: string) => instruments.some((one) => one.row.kind === kind && one.row.address && one.reached);
  const [by, setBy] = useByWhom();
  const [face, setFace] = useState<string | null>(null);
  const [held, setHeld] = useState<string | null>(null);
  const [zero, setZero] = useState<string | null>(null);
  const [stated, setStated] = useState("");
  const out = found.data;
  if (!out) return <ProblemNote error={found.error} />;
  const { proof } = out;
  const rows = proof.rows;
  const informing = rows.filter((one) => one.informs).length;
  const row = rows.find((one) => key(one) === held) ?? rows.find((one) => !one.judgement) ?? rows[0];
  const scale = lossScale(rows, Math.max(130, Math.min(380, available - 500)));
  const chosen = proof.faces.find((one) => faceKey(one) === face);
  const fits = out.references.filter((one) => !one.why_void && one.taken.family === proof.family);
  const reference = (one: ProofRow) =>
    fits.find((r) => r.taken.wavelength_nm === one.wavelength_nm && (zero === null || r.taken.key === zero))?.taken
      .key ?? "";
  const wish = (one: ProofRow) => ({
    ...signed(by),
    start: one.start,
    end: one.end,
    strand: one.strand,
    far_strand: one.far,
    wavelength_nm: one.wavelength_nm,
    direction: one.direction,
    zero: zero === "" ? "" : reference(one),
    tester_zero: zero === "" ? stated : "",
    note: "",
    method: "light source and power meter" as const,
    moment: "after termination" as const,
    length_checked: false,
  });
  const picked = out.references.find((one) => one.taken.key === zero);
  const unfit = (one: ProofRow) =>
    picked && picked.taken.wavelength_nm !== one.wavelength_nm
      ? `The chosen reference is of ${picked.taken.wavelength_nm} nm and cannot serve this row.`
      : "";
  const record =
    (one: ProofRow) =>
    (value_db: number, note = "", cleaned = false) =>
      take.mutateAsync({ ...wish(one), value_db, note, cleaned }).then(
        () => true,
        () => false,
      );
  return (
    <Box>
      <FaceMarks
        faces={proof.faces}
        places={places}
        width={width}
        held={face}
        onHold={(next) => setFace(next === face ? null : next)}
      />
      {row && <StretchMark row={row} elements={detail.link.elements} places={places} width={width} />}
      <Box position="sticky" left={0} width={`${available}px`} maxW={`${available}px`}>
        {chosen && (
          <FaceCard
            key={faceKey(chosen)}
            face={chosen}
            zones={out.zones[chosen.kind] ?? []}
            editions={out.editions}
            detail={detail}
            by={by}
            scope={has("scope")}
          />
        )}
        <WhoBar by={by} onChange={setBy} />
        {proof.tasks.some((task) => task.kind === "twisted pair") && (
          <CopperProof proof={proof} detail={detail} by={by} />
        )}
        {proof.why_not && (
          <Text mt={2} fontSize="13px" role="note">
            {proof.why_not}
          </Text>
        )}
        <PlanList tasks={proof.tasks} />
        <StrandsSeen out={out} detail={detail} by={by} />
        {rows.length > 0 && (
          <Box as="section" aria-label="Readings" mt={3}>
            <Flex gap={3} align="center" wrap="wrap" fontSize="13px">
              <Text fontWeight={600}>
                {proof.span}: {rows.length - out.to_read} of {rows.length} readings
                {informing ? `, ${informing} inform only` : ""}
                {out.failing ? `, ${out.failing} not good` : ""}
              </Text>
              <Button size="sm" variant="outline" className="no-print" asChild>
                <a href={`/api/v1/links/${detail.id}/certificate.pdf`} download>
                  Certificate
                </a>
              </Button>
              <ReferenceChoice
                references={out.references}
                family={proof.family}
                zero={zero}
                stated={stated}
                onZero={setZero}
                onStated={setStated}
              />
            </Flex>
            <Flex gap={2}>
              <Box width="148px" flexShrink={0} />
              <ScaleHead scale={scale} />
            </Flex>
            <ol style={{ padding: 0 }}>
              {rows.map((one) => (
                <ReadingRow
                  key={key(one)}
                  row={one}
                  scale={scale}
                  held={row === one}
                  onHold={() => setHeld(key(one))}
                  onTake={record(one)}
                  onMeter={has("power meter") ? (cleaned) => measure.mutate({ ...wish(one), cleaned }) : undefined}
                  unfit={unfit(one)}
                  busy={take.isPending || measure.isPending}
                />
              ))}
            </ol>
            <ProblemNote error={take.error ?? measure.error} />
            {out.arrays.length > 0 && has("array meter") && has("position switch") && (
              <ArrayButton detail={detail} family={proof.family} by={by} />
            )}
            <ArrayWays ways={out.arrays} />
          </Box>
        )}
      </Box>
      {proof.strands.length > 0 && rows.length > 0 && (
        <TraceSection
          out={out}
          detail={detail}
          by={by}
          places={places}
          width={width}
          available={available}
          instrument={has("trace instrument")}
        />
      )}
    </Box>
  );
}
