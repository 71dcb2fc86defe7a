import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Project, ReelPlan, ReelRun } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { lengthText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { ReelBar } from "./ReelBar";
import { ReelForm, ReportForm } from "./ReelForm";
import { useMoveCut, useTakeReels } from "./queries";
import { BY_WORDS, money } from "./words";

interface Props {
  plan: ReelPlan;
  project: Project | undefined;
  longest: number;
  currency: string;
}

const nameOf = (run: ReelRun) => `${run.of} ${run.section}`;

/** The reels of one kind of cable: a cut is chosen, then the reel that it goes to; what it costs follows at once. */
export function ReelGroup({ plan, project, longest, currency }: Props) {
  const { unit } = useSettings();
  const [held, setHeld] = useState("");
  const take = useTakeReels(project);
  const move = useMoveCut(project);
  const run = plan.runs.find((one) => nameOf(one) === held);
  const onReel = run ? plan.reels.findIndex((reel) => reel.cuts.some((cut) => nameOf(cut) === held)) : -1;
  return (
    <Box as="section" aria-label={plan.line} mt={4}>
      <Heading as="h2" size="sm" fontWeight={600}>
        {plan.line}
      </Heading>
      <Text fontSize="13px">
        {plan.runs.length === 1 ? "1 run" : `${plan.runs.length} runs`},{" "}
        {lengthText(
          plan.runs.reduce((sum, one) => sum + one.length_m, 0),
          unit,
        )}
        ; bought <b className="figures">{lengthText(plan.bought_m, unit)}</b>, ≈ {money(plan.bought_m * plan.each)}{" "}
        {currency}; scrap {lengthText(plan.scrap_m, unit)}. <Proof plan={plan} />
      </Text>
      {plan.troubles.map((trouble) => (
        <Text key={trouble.what} role="status" fontSize="13px" borderLeftWidth="3px" borderColor="fg" pl={2} mt={1}>
          <b>{trouble.what}</b> {trouble.remedy}
        </Text>
      ))}
      {plan.reels.map((reel, place) => (
        <ReelBar
          key={`${reel.row} ${place}`}
          form={reel.row ? <ReportForm reel={reel} line={plan.line} project={project} /> : null}
          reel={reel}
          longest={longest}
          held={held}
          onHold={(one) => setHeld(nameOf(one) === held ? "" : nameOf(one))}
          target={run !== undefined && place !== onReel}
          onTarget={() => run && move.mutate({ line: plan.line, of: run.of, section: run.section, to: place })}
          fits={run !== undefined && reel.left_m >= run.length_m}
        />
      ))}
      {plan.loose.length > 0 && (
        <Flex gap={1} mt={1} wrap="wrap" align="center" fontSize="13px">
          On no reel:
          {plan.loose.map((one) => (
            <Button
              key={nameOf(one)}
              size="xs"
              variant={nameOf(one) === held ? "solid" : "outline"}
              onClick={() => setHeld(nameOf(one) === held ? "" : nameOf(one))}
            >
              {one.words}, {lengthText(one.length_m, unit)}
            </Button>
          ))}
        </Flex>
      )}
      {run && (
        <Flex gap={2} mt={1} align="center" wrap="wrap" fontSize="13px" className="no-print">
          <Text>
            {run.words}: {lengthText(run.length_m, unit)} with slack and waste, {BY_WORDS[run.by]}. Move it to
          </Text>
          <Choice
            label={`Reel for ${run.words}`}
            value={String(onReel)}
            options={[
              ["-1", "no reel"],
              ...plan.reels.map(
                (reel, place) => [String(place), `${reel.name}, ${lengthText(reel.left_m, unit)} left`] as const,
              ),
            ]}
            onChange={(to) =>
              move.mutate({
                line: plan.line,
                of: run.of,
                section: run.section,
                to: to === "-1" ? null : Number(to),
              })
            }
          />
        </Flex>
      )}
      {plan.offers.map((offer) => (
        <Text key={offer.reel + offer.cable} fontSize="13px" mt={1}>
          What is left on {offer.reel} is enough for one more cable along {offer.along} (
          {lengthText(offer.needs_m, unit)}), which is pulled anyway: strands for growth, without another pull.
        </Text>
      ))}
      <ProblemNote error={move.error ?? take.error} />
      <Flex gap={1} mt={1} wrap="wrap" className="no-print">
        {!plan.planned && plan.runs.length > 0 && (
          <Button size="xs" variant="outline" onClick={() => take.mutate({ line: plan.line })}>
            Keep these cuts
          </Button>
        )}
        {plan.planned && (
          <Button size="xs" variant="outline" onClick={() => take.mutate({ line: plan.line, anew: true })}>
            Give these cuts up and propose anew
          </Button>
        )}
        <ReelForm line={plan.line} project={project} />
      </Flex>
    </Box>
  );
}

function Proof({ plan }: { plan: ReelPlan }) {
  const { unit } = useSettings();
  if (plan.planned) return <>The cuts are kept as a person planned them.</>;
  if (plan.proven) return <>Proven: no plan buys less.</>;
  return <>Not proven: {lengthText(plan.bought_m - plan.least_bought_m, unit)} less may be enough.</>;
}
