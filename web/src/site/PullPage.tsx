import { Box, Button, Flex, Heading, Input, Table, Text } from "@chakra-ui/react";
import { Link as RouterLink, useSearchParams } from "react-router";

import type { Project, PullSheet } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { lengthText, sourceText } from "../shared/format";
import { usePullSheet } from "../shared/queries";
import { useSettings } from "../shared/settings";

const NEWTON_PER_POUND = 4.4482216;
const CARE = [
  "Lubricant that suits the jacket; a swivel and a pulling eye on the strength members, never on the jacket.",
  "A tension meter, or a fuse link below the rated tension. Slow and steady; no kinks, no overtightened ties afterwards.",
  "Eye protection at cut ends, a closed bin for glass. Traffic, pits, height and mains: local codes and licensed people decide.",
];

/** The pull of one cable, for the day: from which end, how much tension where, what to mind. It prints on one sheet. */
export function PullPage({ project }: { project: Project | undefined }) {
  const [params, setParams] = useSearchParams();
  const cable = params.get("cable") ?? "";
  const friction = params.get("friction") ?? "0.25";
  const sheet = usePullSheet(project, cable, friction);
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3} maxW="900px">
      <Flex gap={3} align="baseline" className="no-print" fontSize="13px">
        <RouterLink to="/site?table=cables">Site</RouterLink>
        <label>
          friction{" "}
          <Input size="xs" width="64px" aria-label="Friction" className="figures" borderColor="border.emphasized" defaultValue={friction} onBlur={(event) => setParams({ cable, friction: event.target.value.replace(",", ".") || "0.25" }, { replace: true })} />
        </label>
        <Button size="xs" variant="outline" onClick={() => window.print()}>
          Print
        </Button>
      </Flex>
      <ProblemNote error={sheet.error} />
      {sheet.isPending && <Text color="fg.muted">Reckoning the pull …</Text>}
      {sheet.data && <Sheet sheet={sheet.data} />}
    </Box>
  );
}

/** Straight and bend in the order in which the cable meets them. */
const inOrder = (direction: string, straight: number, bend: number) => (direction === "forwards" ? [straight, bend] : [bend, straight]);

function Sheet({ sheet }: { sheet: PullSheet }) {
  const { unit } = useSettings();
  const force = (newton: number) => (unit === "ft" ? `${(newton / NEWTON_PER_POUND).toFixed(0)} lbf` : `${newton.toFixed(0)} N`);
  const [easy] = sheet.pulls;
  return (
    <>
      <Heading as="h1" size="md" fontWeight={600} mt={2}>
        Pull sheet: {sheet.name}
      </Heading>
      <Text>
        {sheet.places.join(", ")}. {lengthText(sheet.length_m, unit)}, {sheet.bends_deg}° of bends.
      </Text>
      {easy && (
        <Text fontSize="17px" fontWeight={600} data-testid="pull">
          Feed at {sheet.start_at}: {force(easy.tension_n)} at most{sheet.rated_tension_n != null ? `, rated ${force(sheet.rated_tension_n)}` : ""}.
        </Text>
      )}
      {sheet.warnings.map((warning) => (
        <Text key={warning.what} borderLeftWidth="3px" borderColor="fg" pl={2} my={1} fontWeight={warning.breaks ? 600 : 400}>
          {warning.what}
          {warning.source ? ` (${sourceText(warning.source)})` : ""}
        </Text>
      ))}
      <Flex gap={8} wrap="wrap">
        {sheet.pulls.map((pull) => (
          <Box key={pull.direction}>
            <Text fontWeight={600} mt={3}>
              {pull.direction === "forwards" ? `from ${sheet.places[0]}` : `from ${sheet.places.at(-1)}`}: {force(pull.tension_n)}
            </Text>
            <Table.Root size="sm" width="auto" aria-label={`Tension ${pull.direction}`}>
              <Table.Header>
                <Table.Row bg="transparent">
                  {["stretch", ...(pull.direction === "forwards" ? ["after the straight", "after the bend"] : ["after the bend", "after the straight"]), "sidewall"].map((head) => (
                    <Table.ColumnHeader key={head} px={2} py={1} fontSize="12px" color="fg.muted">{head}</Table.ColumnHeader>
                  ))}
                </Table.Row>
              </Table.Header>
              <Table.Body className="figures">
                {pull.steps.map((step) => (
                  <Table.Row key={step.section} bg="transparent">
                    <Table.Cell px={2} py="2px">{step.section + 1}</Table.Cell>
                    {inOrder(pull.direction, step.after_straight_n, step.after_bend_n).map((newton, i) => (
                      <Table.Cell key={i} px={2} py="2px" textAlign="end">{force(newton)}</Table.Cell>
                    ))}
                    <Table.Cell px={2} py="2px" textAlign="end">{step.sidewall_n_per_m ? `${step.sidewall_n_per_m.toFixed(0)} N/m` : ""}</Table.Cell>
                  </Table.Row>
                ))}
              </Table.Body>
            </Table.Root>
          </Box>
        ))}
      </Flex>
      <Text mt={3} fontSize="12.5px" color="fg.muted">
        Friction {sheet.friction}. {sheet.sources.map(sourceText).join("; ")}.
      </Text>
      {CARE.map((line) => (
        <Text key={line} mt={1} fontSize="13px">{line}</Text>
      ))}
    </>
  );
}
