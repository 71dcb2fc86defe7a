import { Box, Button, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Project, ReferenceSeen } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { figureText } from "../shared/format";
import { InstrumentList } from "./InstrumentList";
import { ReferenceForm } from "./ReferenceForm";
import { useTests, useVoidReference } from "./queries";
import { NOBODY, signed } from "./who";

const VOIDS = ["cord left the source", "power cycle", "another cord", "another wavelength", "meter moved"] as const;

/** The instruments, and the zero of every reading: taken before the first one, void when a cord left the source. */
export function ReferencesPage({ project }: { project: Project | undefined }) {
  const tests = useTests(project);
  const seen = tests.data?.references ?? [];
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Heading as="h1" size="md" fontWeight={600}>
        References and instruments
      </Heading>
      <Text fontSize="13px" color="fg.muted" maxW="90ch">
        A forgotten reference is the commonest wrong fail and the commonest wrong pass. It is taken at the start of
        a shift, the cords are joined and read, and it is void once a cord left the source.
      </Text>
      <ReferenceForm project={project} />
      <ProblemNote error={tests.error} />
      {tests.data && seen.length === 0 && (
        <Text mt={2} fontSize="13px">
          No reference yet. Take one above: for single-mode at 1310 nm with one cord, a loop of 30 mm in it.
        </Text>
      )}
      <Box as="ul" p={0} listStyleType="none" mt={2} aria-label="References">
        {seen.map((one) => (
          <Reference key={one.taken.key} seen={one} project={project} />
        ))}
      </Box>
      {tests.data && <InstrumentList project={project} />}
    </Box>
  );
}

function Reference({ seen, project }: { seen: ReferenceSeen; project: Project | undefined }) {
  const end = useVoidReference(project);
  const { taken } = seen;
  return (
    <Box as="li" borderTopWidth="1px" py="6px" fontSize="13px" data-reference={taken.key}>
      <Flex gap={3} align="center" wrap="wrap">
        <Chords method={taken.method} />
        <Box flex="1" minW="260px">
          <b>
            {taken.method}, {taken.family}, {taken.wavelength_nm} nm
          </b>{" "}
          {taken.core_um ? `cords of ${taken.core_um} µm, ` : ""}
          {taken.reference_grade ? "reference-grade cords" : "ordinary cords"}
          {taken.power_dbm != null ? `, ${figureText(taken.power_dbm)} dBm` : ""}
          {taken.joined_db != null ? `, cords joined ${figureText(taken.joined_db)} dB` : ""}; {taken.instrument}{" "}
          {taken.operator} {taken.taken_on} {taken.at_time}
          <Text fontWeight={600}>{seen.why_void ? `Void: ${seen.why_void}${sinceText(seen)}.` : "Holds."}</Text>
          {(seen.warns ?? []).map((words) => (
            <Text key={words}>{words}</Text>
          ))}
        </Box>
        {!seen.voided && <LossForm reference={taken.key} end={end} />}
      </Flex>
      <ProblemNote error={end.error} />
    </Box>
  );
}

const sinceText = ({ voided, lost_on, lost_at }: ReferenceSeen) =>
  voided && lost_on ? `, since ${lost_on} ${(lost_at ?? "").slice(0, 5)}`.trimEnd() : "";

/** Why a reference no longer holds, and since when: what was read with it since then is to be read again. */
function LossForm({ reference, end }: { reference: string; end: ReturnType<typeof useVoidReference> }) {
  const [why, setWhy] = useState("");
  const [since, setSince] = useState({ lost_on: "", lost_at: "" });
  function choose(next: string) {
    const { taken_on, at_time } = signed(NOBODY);
    setSince({ lost_on: taken_on, lost_at: at_time.slice(0, 5) });
    setWhy(next);
  }
  const field = (key: keyof typeof since, type: string, label: string) => (
    <Input
      size="xs"
      width={type === "date" ? "128px" : "90px"}
      type={type}
      aria-label={label}
      borderColor="border.emphasized"
      value={since[key]}
      onChange={(event) => setSince({ ...since, [key]: event.target.value })}
    />
  );
  return (
    <Flex gap={2} align="center" wrap="wrap" className="no-print">
      <Choice
        label="Say that it is void"
        value={why}
        options={[["", "it holds"], ...VOIDS.map((one) => [one, `void: ${one}`] as const)]}
        onChange={choose}
      />
      {why && (
        <>
          since {field("lost_on", "date", "Day of the loss")} {field("lost_at", "time", "Time of the loss")}
          <Button
            size="xs"
            loading={end.isPending}
            disabled={!since.lost_on}
            onClick={() =>
              end.mutate({ key: reference, why, lost_on: since.lost_on, lost_at: since.lost_at || null })
            }
          >
            Record the loss
          </Button>
          <Text fontSize="12px" color="fg.muted">
            {why === "cord left the source" ? "Every wavelength of this source is lost with it. " : ""}
            Readings taken after this time are withdrawn.
          </Text>
        </>
      )}
    </Flex>
  );
}

/** The cords between source and meter while the zero is taken. */
function Chords({ method }: { method: string }) {
  const count = method === "one cord" ? 1 : method === "two cords" ? 2 : 3;
  const step = 92 / count;
  return (
    <svg width="120" height="26" role="img" aria-label={`${method} between source and meter`}>
      <rect x="1" y="6" width="12" height="14" fill="none" stroke="var(--chakra-colors-fg)" />
      <rect x="107" y="6" width="12" height="14" fill="none" stroke="var(--chakra-colors-fg)" />
      {Array.from({ length: count }, (_, i) => (
        <g key={i}>
          <path
            d={`M${14 + i * step} 13q${step / 2} ${i % 2 ? -9 : 9} ${step} 0`}
            fill="none"
            stroke="var(--chakra-colors-fg)"
            strokeWidth="1.6"
          />
          {i > 0 && <circle cx={14 + i * step} cy="13" r="3.4" fill="var(--chakra-colors-fg)" />}
        </g>
      ))}
    </svg>
  );
}
