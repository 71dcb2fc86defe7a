import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { FaceDefect, FaceZone, LinkDetail, ProofFace } from "../shared/api";
import { Care } from "../shared/Care";
import { ProblemNote } from "../shared/ProblemNote";
import { sourceText } from "../shared/format";
import { pictureAddress } from "./attachments";
import { FaceDrawing } from "./FaceDrawing";
import { FaceTools } from "./FaceTools";
import { useGrade, useInspect, usePicture } from "./queries";
import { type ByWhom, signed } from "./who";

type Mark = FaceDefect & { x: number; y: number };
const STEPS: Record<string, string> = {
  "clean dry": "Cleaned dry",
  "clean wet to dry": "Cleaned wet to dry",
  exchange: "Cord exchanged",
  "terminate again": "Terminated again",
};
const CARE = [
  "Laser light is invisible: unplug both ends and confirm darkness with a meter before a scope is used; no magnifier on arrays or amplified spans.",
  "Glass shards: eye protection, a black mat, a closed bin. No flame near solvent.",
];

interface Props {
  face: ProofFace;
  zones: readonly FaceZone[];
  detail: LinkDetail;
  by: ByWhom;
  scope: boolean;
  editions: readonly string[];
}

/** A face in hand: what was done, what comes next, and what is seen on it. */
export function FaceCard({ face, zones, detail, by, scope, editions }: Props) {
  const inspect = useInspect(detail);
  const look = usePicture(detail);
  const [marks, setMarks] = useState<readonly Mark[]>([]);
  const [size, setSize] = useState("3");
  const [kind, setKind] = useState<FaceDefect["kind"]>("defect");
  const [picture, setPicture] = useState("");
  const [edition, setEdition] = useState(editions[0] ?? "");
  const [cord, setCord] = useState(false);
  const [position, setPosition] = useState(face.positions[0] ?? 1);
  const defects = marks.map(({ kind: what, from_middle_um, size_um }) => ({ kind: what, from_middle_um, size_um }));
  const graded = useGrade(face.kind, defects, marks.length > 0).data?.graded;
  const record = (step: string, more: object = {}) =>
    inspect.mutate(
      {
        ...signed(by),
        piece: face.piece,
        face: face.face,
        position,
        step,
        picture,
        edition,
        test_cord: cord,
        ...more,
      } as never,
      { onSuccess: () => (setMarks([]), setPicture("")) },
    );
  const next = face.next.step;
  return (
    <Box borderWidth="1px" p={3} mt={2} as="section" aria-label={`Face of ${face.element}`}>
      <Flex gap={4} wrap="wrap">
        <FaceDrawing
          zones={zones}
          marks={marks}
          picture={picture ? pictureAddress(detail.project_id, picture) : ""}
          onMark={(x, y) =>
            setMarks((before) => [
              ...before,
              { kind, x, y, from_middle_um: Math.hypot(x, y), size_um: Number(size) || 3 },
            ])
          }
        />
        <Box flex="1" minW="260px" fontSize="13px">
          <Text fontWeight={600}>
            {face.words}, {face.element}, {face.face} side · {face.kind}
          </Text>
          <Text mt={1} data-testid="next-step">
            Next: {next === "none" ? "" : `${next}. `}
            {face.next.words}
          </Text>
          <Text color="fg.muted" fontSize="12px">
            Cleaner: {face.cleaner}. {zones[0] ? sourceText(zones[0].source) : ""}
          </Text>
          {face.positions.length > 1 && (
            <Flex gap={1} mt={2} align="center">
              ferrule
              {face.positions.map((one) => (
                <Button
                  key={one}
                  size="sm"
                  variant={one === position ? "solid" : "outline"}
                  aria-pressed={one === position}
                  onClick={() => setPosition(one)}
                >
                  {one}
                </Button>
              ))}
            </Flex>
          )}
          <FaceTools
            kind={kind}
            onKind={setKind}
            size={size}
            onSize={setSize}
            edition={edition}
            editions={editions}
            onEdition={setEdition}
            cord={cord}
            onCord={() => setCord(!cord)}
            onPicture={setPicture}
            looking={look.isPending}
            onLook={
              scope
                ? () =>
                    look.mutate(
                      { piece: face.piece, face: face.face },
                      { onSuccess: (kept) => setPicture(kept.hash) },
                    )
                : undefined
            }
          />
          {marks.length > 0 && (
            <Text mt={1} aria-live="polite">
              {graded?.passes ? "It passes with these marks." : graded?.beyond.join("; ")}
            </Text>
          )}
          <Flex gap={2} mt={2} wrap="wrap">
            {marks.length > 0 ? (
              <>
                <Button size="sm" onClick={() => record("inspect", { defects })}>
                  Record what was seen
                </Button>
                <Button size="sm" variant="outline" onClick={() => setMarks([])}>
                  Forget the marks
                </Button>
              </>
            ) : (
              <Button
                size="sm"
                variant={next === "inspect" ? "solid" : "outline"}
                onClick={() => record("inspect", { clean: true })}
              >
                Looked at: clean
              </Button>
            )}
            {Object.entries(STEPS).map(([step, words]) => (
              <Button
                key={step}
                size="sm"
                variant={next === step ? "solid" : "outline"}
                onClick={() => record(step)}
              >
                {words}
              </Button>
            ))}
            <Button size="sm" variant="outline" onClick={() => record("damaged")}>
              Damaged
            </Button>
          </Flex>
          <ProblemNote error={inspect.error ?? look.error} />
          <StepsSoFar face={face} />
          <Care lines={CARE} />
        </Box>
      </Flex>
    </Box>
  );
}

function StepsSoFar({ face }: { face: ProofFace }) {
  return (
    <Box as="ol" mt={2} pl={4} fontSize="12.5px" aria-label="Steps so far">
      {face.steps.map((one) => (
        <li key={one.key}>
          {one.step}
          {face.positions.length > 1 ? `, ferrule ${one.position}` : ""}
          {one.passes === true ? ": passes" : one.passes === false ? ": fails" : ""} {one.operator} {one.taken_on}{" "}
          {one.at_time}
        </li>
      ))}
    </Box>
  );
}
