import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { LinkDetail, ProofOut, TraceView, TracedJoint } from "../shared/api";
import { Care } from "../shared/Care";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { figureText, lengthText } from "../shared/format";
import { useSettings } from "../shared/settings";
import type { Place } from "../link/layout";
import { Link as RouterLink } from "react-router";

import { AsBuilt } from "./AsBuilt";
import { DigCard } from "./DigCard";
import { LengthTry, type Tried } from "./LengthTry";
import { TraceDrawing } from "./TraceDrawing";
import { sendFile } from "./attachments";
import { useMeasureTrace, usePutTrace, useTrace } from "./queries";
import { type ByWhom, signed } from "./who";

const MOMENTS = ["after termination", "on the reel", "after the pull"] as const;
type Moment = (typeof MOMENTS)[number];
const CARE = [
  "An OTDR sends a strong pulse: it can destroy a receiver. The far end is unplugged and tagged before it is started; laser light is invisible.",
];

interface Props {
  out: ProofOut;
  detail: LinkDetail;
  by: ByWhom;
  places: readonly Place[];
  width: number;
  available: number;
  instrument: boolean;
}

/** Tier 2: the trace under its pieces, expected and measured; what differs stands on its piece. */
export function TraceSection({ out, detail, by, places, width, available, instrument }: Props) {
  const { unit } = useSettings();
  const { proof } = out;
  const family = proof.family;
  const wavelengths = family === "multimode" ? [850, 1300] : [1310, 1550];
  const traces = proof.traces;
  const [key, setKey] = useState<string | null>(null);
  const [nm, setNm] = useState(String(wavelengths[1]));
  const [strand, setStrand] = useState(String(proof.strands[0]?.near ?? 1));
  const [direction, setDirection] = useState<"right" | "left">("right");
  const [pulse, setPulse] = useState("");
  const [moment, setMoment] = useState<Moment>("after termination");
  const [held, setHeld] = useState<TracedJoint | null>(null);
  const [error, setError] = useState<unknown>(null);
  const measure = useMeasureTrace(detail);
  const put = usePutTrace(detail);
  const chosen = key === null ? (traces.at(-1)?.key ?? "") : key;
  const [tried, setTried] = useState<Tried | null>(null);
  const length = tried ? `&element=${tried.element}&length_m=${tried.length_m}` : "";
  const plan = `wavelength_nm=${nm}&direction=${direction}${pulse ? `&pulse_ns=${pulse}` : ""}${length}`;
  const found = useTrace(detail, chosen, plan);
  const view = found.data;
  const bare = moment === "on the reel" || moment === "after the pull";
  const cable = proof.tasks.find((task) => task.moment === "on the reel");
  const [start, end] = bare && cable ? [cable.start, cable.end] : [proof.start, proof.end];
  const wish = { ...signed(by), start, end, moment, strand: Number(strand), direction };
  const done = { onSuccess: () => (setKey(null), setHeld(null)) };
  async function take(file: File | undefined) {
    if (!file) return;
    setError(null);
    try {
      const { hash } = await sendFile(detail.project_id, file);
      const cord = view?.cords_m ?? 0;
      put.mutate({ ...wish, file: hash, launch_m: cord, receive_m: cord }, done);
    } catch (problem) {
      setError(problem);
    }
  }
  return (
    <Box as="section" aria-label="Traces" mt={4}>
      <Flex gap={2} align="center" wrap="wrap" fontSize="13px" width={`${available}px`} position="sticky" left={0}>
        <Text fontWeight={600}>Traces</Text>
        <Choice
          label="Trace shown"
          value={chosen}
          options={[
            ...traces.map(
              (t) =>
                [
                  t.key,
                  `strand ${t.strand}, ${t.wavelength_nm} nm ${t.direction === "right" ? "→" : "←"} ${t.taken_on ?? ""}`,
                ] as const,
            ),
            ["", "the expected one"],
          ]}
          onChange={(next) => (setKey(next), setHeld(null))}
        />
        <span>next:</span>
        <Choice
          label="Strand of the trace"
          value={strand}
          options={proof.strands.map((one) => [String(one.near), `strand ${one.near}`])}
          onChange={setStrand}
        />
        <Choice
          label="Wavelength of the trace"
          value={nm}
          options={wavelengths.map((one) => [String(one), `${one} nm`])}
          onChange={setNm}
        />
        <Choice
          label="Direction of the trace"
          value={direction}
          options={[
            ["right", "left to right"],
            ["left", "right to left"],
          ]}
          onChange={(next) => setDirection(next as "right" | "left")}
        />
        {proof.tasks.some((task) => task.moment === "on the reel") && (
          <Choice
            label="Moment of the trace"
            value={moment}
            options={MOMENTS.map((one) => [one, one] as const)}
            onChange={(next) => setMoment(next as Moment)}
          />
        )}
        <Choice
          label="Pulse"
          value={pulse}
          options={[
            ["", "shortest pulse that reaches"],
            ...(view?.pulses ?? []).map((one) => [String(one.pulse_ns), `${one.pulse_ns} ns`] as const),
          ]}
          onChange={setPulse}
        />
        {instrument && (
          <Button
            size="sm"
            loading={measure.isPending}
            onClick={() =>
              measure.mutate({ ...wish, wavelength_nm: Number(nm), pulse_ns: pulse ? Number(pulse) : null }, done)
            }
          >
            Take the trace
          </Button>
        )}
        <label>
          from a file (.sor){" "}
          <Input
            type="file"
            size="xs"
            width="180px"
            accept=".sor"
            borderColor="border.emphasized"
            onChange={(event) => void take(event.target.files?.[0])}
          />
        </label>
      </Flex>
      <ProblemNote error={error ?? measure.error ?? put.error ?? found.error} />
      {view && (
        <>
          {!chosen && <LengthTry detail={detail} view={view} tried={tried} onTry={setTried} />}
          <TraceDrawing view={view} places={places} width={width} held={held} onHold={setHeld} />
          <Box position="sticky" left={0} width={`${available}px`} fontSize="13px">
            <Told view={view} held={held} unit={unit} />
            {view.dig && (
              <>
                <DigCard dig={view.dig} />
                <Button size="xs" variant="outline" mt={1} className="no-print" asChild>
                  <RouterLink to={`/links/${detail.id}/dig/${view.event}`}>Card to print</RouterLink>
                </Button>
              </>
            )}
            <AsBuilt view={view} detail={detail} />
            <Care lines={CARE} />
          </Box>
        </>
      )}
    </Box>
  );
}

function Told({ view, held, unit }: { view: TraceView; held: TracedJoint | null; unit: "m" | "ft" }) {
  const judged = view.judged;
  const wrong = (judged?.joints ?? []).filter((joint) => joint.verdict !== "good");
  const shown = held ? [held] : wrong;
  return (
    <>
      <Text color="fg.muted">
        Pulse {view.pulse.pulse_ns} ns, {lengthText(view.pulse.length_m, unit)} on the fiber: what is nearer than{" "}
        {lengthText(view.pulse.event_dead_m, unit)} is one event, a loss is told apart from{" "}
        {lengthText(view.pulse.loss_dead_m, unit)} on. Launch and receive cord {lengthText(view.cords_m, unit)};
        both are of the cable's own core and fiber and stay in place for both directions, only the instrument moves.
      </Text>
      {judged && (
        <Text mt={1} data-testid="trace-sum">
          {judged.loss_db !== null && (
            <>
              From cord to cord {figureText(judged.loss_db ?? 0)} dB ± {figureText(judged.loss_unsure_db ?? 0)}{" "}
              dB.{" "}
            </>
          )}
          {judged.length_m !== null && (
            <>
              By light {lengthText(judged.length_m, unit)} ± {lengthText(judged.unsure_m, unit)}.{" "}
            </>
          )}
          {judged.return_loss_db !== null && (
            <>Return loss of the whole {figureText(judged.return_loss_db ?? 0, 1)} dB. </>
          )}
          {judged.words.join(" ")}
        </Text>
      )}
      {view.warnings?.map((words) => (
        <Text key={words} fontWeight={600}>
          {words}
        </Text>
      ))}
      <Box as="ul" pl={4} mt={1} aria-label="What the trace says">
        {shown.map((joint, i) => (
          <li key={i}>
            <b>
              {joint.element || "no piece"} {joint.at_m !== null ? `at ${lengthText(joint.at_m, unit)}` : ""}
            </b>{" "}
            {joint.verdict}
            {joint.loss_db !== null ? `, ${figureText(joint.loss_db ?? 0)} dB` : ""}
            {joint.reflectance_db !== null ? `, reflects ${figureText(joint.reflectance_db ?? 0, 0)} dB` : ""}.{" "}
            {joint.words}
          </li>
        ))}
        {judged && shown.length === 0 && !judged.suspect && (
          <li>Every joint is where it should be, and as good.</li>
        )}
      </Box>
      {view.both && view.both.length > 0 && (
        <Text mt={1}>
          Both directions:{" "}
          {view.both
            .map(
              (one) =>
                `${one.element} ${figureText(one.mean_db)} dB${one.good ? "" : one.words ? ` (${one.words})` : " (too much)"}`,
            )
            .join(", ")}
          .
        </Text>
      )}
    </>
  );
}
