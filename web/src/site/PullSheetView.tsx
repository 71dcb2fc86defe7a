import { Box, Flex, Heading, Text } from "@chakra-ui/react";

import type { PullSheet } from "../shared/api";
import { Care } from "../shared/Care";
import { PlainTable } from "../shared/PlainTable";
import { lengthText, sourceText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { PullDrawing } from "./PullDrawing";

const NEWTON_PER_POUND = 4.4482216;
const CARE = [
  "Lubricant that suits the jacket; a swivel and a pulling eye on the strength members, never on the jacket.",
  "A tension meter, or a fuse link below the rated tension. Slow and steady; no kinks, no overtightened ties afterwards.",
];

/** Straight and bend in the order in which the cable meets them. */
const inOrder = (direction: string, straight: number, bend: number) =>
  direction === "forwards" ? [straight, bend] : [bend, straight];

/** The sheet itself: where to feed, in how many pulls, tension step by step from both ends, what to mind. */
export function PullSheetView({ sheet }: { sheet: PullSheet }) {
  const { unit } = useSettings();
  const force = (newton: number) =>
    unit === "ft" ? `${(newton / NEWTON_PER_POUND).toFixed(0)} lbf` : `${newton.toFixed(0)} N`;
  const [easy] = sheet.pulls;
  return (
    <Box maxW="940px">
      <Heading as="h1" size="md" fontWeight={600} mt={2}>
        Pull sheet: {sheet.name}
      </Heading>
      <Text>
        {sheet.places.join(", ")}. {lengthText(sheet.length_m, unit)}, {sheet.bends_deg}° of bends.
      </Text>
      {easy && (
        <Text fontSize="17px" fontWeight={600} data-testid="pull">
          Feed at {sheet.start_at}: {force(sheet.most_n[0] ?? easy.tension_n)} {sheet.bound}
          {sheet.rated_tension_n != null ? `, rated ${force(sheet.rated_tension_n)}` : ""}.
        </Text>
      )}
      {easy && sheet.dry_n != null && sheet.dry_n > (sheet.most_n[0] ?? 0) && (
        <Text fontSize="13px">
          Dry, without a lubricant, it is {force(sheet.dry_n)}
          {sheet.rated_tension_n != null && sheet.dry_n > sheet.rated_tension_n
            ? ": more than it is rated for"
            : ""}
          .
        </Text>
      )}
      {sheet.pulls.length > 0 && <PullDrawing sheet={sheet} force={force} />}
      {sheet.bends_deg > 0 && easy && (
        <Text fontSize="13px">
          Drawn with the bends spread evenly over each pathway: {force(easy.tension_n)} from {sheet.start_at}.
        </Text>
      )}
      {sheet.warnings.map((warning) => (
        <Text
          key={warning.what}
          borderLeftWidth="3px"
          borderColor="fg"
          pl={2}
          my={1}
          fontWeight={warning.breaks ? 600 : 400}
        >
          {warning.what}
          {warning.source ? ` (${sourceText(warning.source)})` : ""}
        </Text>
      ))}
      {sheet.stages.length > 0 && (
        <>
          <Heading as="h2" size="sm" fontWeight={600} mt={3}>
            In {sheet.stages.length} pulls
          </Heading>
          <PlainTable
            label="Pulls"
            head={["from, to", "length", "bends", "tension", "verdict"]}
            figures={[1, 2, 3]}
            rows={sheet.stages.map((stage) => ({
              key: stage.start,
              cells: [
                `${stage.start} to ${stage.end}`,
                lengthText(stage.length_m, unit),
                `${stage.bends_deg}°`,
                stage.tension_n == null ? "" : force(stage.tension_n),
                stage.kept ? "keeps the limits" : "still over a limit: another pull point is needed",
              ],
            }))}
          />
        </>
      )}
      {sheet.bend_losses.map((loss) => (
        <Text key={loss.grade} fontSize="13px">
          Tightest bend {loss.radius_mm.toFixed(0)} mm, less than the cable may lie in: one turn of {loss.grade}{" "}
          there costs{" "}
          {loss.loss_db == null
            ? "more than any class says"
            : `up to ${loss.loss_db.toFixed(3)} dB at ${loss.wavelength_nm} nm`}{" "}
          ({sourceText(loss.source)}).
        </Text>
      ))}
      <Flex gap={8} wrap="wrap">
        {sheet.pulls.map((pull) => (
          <Box key={pull.direction}>
            <Text fontWeight={600} mt={3}>
              {pull.direction === "forwards" ? `from ${sheet.places[0]}` : `from ${sheet.places.at(-1)}`}:{" "}
              {force(pull.tension_n)}
            </Text>
            <PlainTable
              label={`Tension ${pull.direction}`}
              head={[
                "stretch",
                ...(pull.direction === "forwards"
                  ? ["after the straight", "after the bend"]
                  : ["after the bend", "after the straight"]),
                "sidewall",
              ]}
              figures={[0, 1, 2, 3]}
              rows={pull.steps.map((step, i) => ({
                key: String(i),
                cells: [
                  step.section + 1,
                  ...inOrder(pull.direction, step.after_straight_n, step.after_bend_n).map(force),
                  step.sidewall_n_per_m ? `${step.sidewall_n_per_m.toFixed(0)} N/m` : "",
                ],
              }))}
            />
          </Box>
        ))}
      </Flex>
      <Text mt={3} fontSize="12.5px" color="fg.muted">
        Friction {sheet.friction}. {sheet.sources.map(sourceText).join("; ")}.
      </Text>
      {CARE.map((line) => (
        <Text key={line} mt={1} fontSize="13px">
          {line}
        </Text>
      ))}
      <Care lines={sheet.cautions} />
    </Box>
  );
}
