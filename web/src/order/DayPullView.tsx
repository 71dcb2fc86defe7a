import { Box, Heading, Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { DayPull } from "../shared/api";
import { lengthText, sourceText } from "../shared/format";
import { useSettings } from "../shared/settings";

const NEWTON_PER_POUND = 4.4482216;
const INK = "var(--chakra-colors-fg)";
const WIDTH = 900;
const HEIGHT = 132;
const FLOOR = 92;

/** One pull of the day: its way from the reel on, the tension rising along it to its limit, the points where people stand. */
export function DayPullView({ pull }: { pull: DayPull }) {
  const { unit } = useSettings();
  const force = (newton: number | null | undefined) =>
    newton == null
      ? "not known"
      : unit === "ft"
        ? `${(newton / NEWTON_PER_POUND).toFixed(0)} lbf`
        : `${newton.toFixed(0)} N`;
  const search = new URLSearchParams(pull.cables.map((id) => ["cable", id]));
  return (
    <Box as="section" aria-label={`Pull ${pull.number}`} mt={4} css={{ breakInside: "avoid" }}>
      <Heading as="h2" size="sm" fontWeight={600}>
        {pull.number}. {pull.names.join(" and ")}
        {pull.names.length > 1 ? ", together" : ""}
      </Heading>
      {pull.problem ? (
        <Text fontSize="13px">{pull.problem}</Text>
      ) : (
        <Text fontSize="13px">
          From <b>{pull.start}</b> to <b>{pull.end}</b>, {lengthText(pull.length_m, unit)}:{" "}
          <b className="figures">{force(pull.tension_n)}</b> {pull.bound}, rated {force(pull.rated_n)}.{" "}
          <RouterLink className="no-print" to={`/site/pull?${search}`}>
            pull sheet
          </RouterLink>
        </Text>
      )}
      {pull.points.length > 1 && <Rise pull={pull} force={force} />}
      {pull.warnings.map((warning) => (
        <Text
          key={warning.what}
          fontSize="13px"
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
    </Box>
  );
}

/** Tension after each stretch, from the reel on, against the limit; below it the points of the way. */
function Rise({ pull, force }: { pull: DayPull; force: (newton: number | null | undefined) => string }) {
  const chosen = pull.sheet?.pulls.find((one) => one.tension_n === pull.tension_n);
  const steps = (chosen?.steps ?? []).map((step) => Math.max(step.after_straight_n, step.after_bend_n));
  const top = Math.max(pull.rated_n ?? 0, pull.tension_n ?? 0, 1) * 1.15;
  const y = (newton: number) => FLOOR - (newton / top) * (FLOOR - 12);
  const x = (share: number) => 10 + share * (WIDTH - 150);
  const line = steps.map((newton, i) => `L${x((i + 1) / steps.length)} ${y(newton)}`).join("");
  return (
    <Box overflowX="auto">
      <svg
        width={WIDTH}
        height={HEIGHT}
        role="img"
        aria-label={`Tension from ${pull.start} to ${pull.end}: ${force(pull.tension_n)} ${pull.bound}`}
      >
        <path d={`M${x(0)} ${FLOOR}H${x(1)}`} stroke={INK} />
        {steps.length > 0 && <path d={`M${x(0)} ${FLOOR}${line}`} fill="none" stroke={INK} strokeWidth="1.8" />}
        {pull.rated_n != null && (
          <>
            <path d={`M${x(0)} ${y(pull.rated_n)}H${x(1)}`} stroke={INK} strokeDasharray="6 4" />
            <text x={x(1) + 6} y={y(pull.rated_n) + 4} fontSize="12" fill={INK} className="figures">
              limit {force(pull.rated_n)}
            </text>
          </>
        )}
        {pull.tension_n != null && (
          <text x={x(1) + 6} y={y(pull.tension_n) + 4} fontSize="12" fill={INK} className="figures">
            {force(pull.tension_n)}
          </text>
        )}
        {pull.points.map((point, i) => {
          const at = x(i / (pull.points.length - 1));
          const last = i === pull.points.length - 1;
          return (
            <g key={`${point.name} ${i}`}>
              <circle cx={at} cy={FLOOR} r="4" fill="var(--chakra-colors-bg)" stroke={INK} />
              <text
                x={at}
                y={FLOOR + 17}
                fontSize="11"
                fill={INK}
                textAnchor={i === 0 ? "start" : last ? "end" : "middle"}
              >
                {point.name}
              </text>
              <text
                x={at}
                y={FLOOR + 31}
                fontSize="10.5"
                fill={INK}
                opacity="0.75"
                textAnchor={i === 0 ? "start" : last ? "end" : "middle"}
              >
                {point.does}
              </text>
            </g>
          );
        })}
      </svg>
    </Box>
  );
}
