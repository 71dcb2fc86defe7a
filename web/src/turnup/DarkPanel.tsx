import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";

import { Link as RouterLink } from "react-router";

import { useByWhom } from "../proof/who";
import type { DiagnosisOut, LinkLook, Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { Question } from "./Question";
import { here } from "./WhoHere";
import { useSay, useTakeBack } from "./queries";
import { shareText } from "./scale";

interface Props {
  id: number;
  found: DiagnosisOut;
  project: Project | undefined;
  /** What was read at a port is not believed: it is left out until the page is opened again. */
  onLeaveOut: (test: string) => void;
}

/** A dark link: one sentence with the next look, its outcomes as buttons, what is believed, what was answered. */
export function DarkPanel({ id, found, project, onLeaveOut }: Props) {
  const [by] = useByWhom();
  const look = useSay<object, unknown>(() => `/links/${id}/looks`);
  const cure = useSay<object, unknown>(() => `/links/${id}/cures`);
  const back = useTakeBack(project);
  const say = (test: string, outcome: string) => look.mutate({ test, outcome, ...here(by) });
  const looks = new Map(found.looks.map((one) => [one.name, one]));
  const read = found.answers.filter((one) => one.read && !one.impossible);
  const said = found.answers.filter((one) => !one.read || one.impossible);
  const odd = found.answers.some((one) => one.impossible);
  const answered = new Set(found.answers.map((one) => one.test));
  const [next, ...rest] = found.ranked;
  const others = found.cure_first ? found.ranked : rest;
  if (found.why_not) return <Text fontSize="13px">{found.why_not}</Text>;
  return (
    <Box>
      {found.findings.length > 0 && (
        <Box borderLeftWidth="3px" borderColor="fg" pl={2} mb={2} fontSize="13px">
          <Text fontWeight={600}>
            The plan itself says that this link cannot work. That comes first:{" "}
            <RouterLink to={`/links/${id}`}>open it, its fix is there</RouterLink>
          </Text>
          {found.findings.map((one) => (
            <Text key={one.code + (one.at ?? []).join()}>
              {one.severity}: {one.what}
            </Text>
          ))}
        </Box>
      )}
      <Text fontSize="16px" fontWeight={600} mt={2} data-testid="next-look">
        {found.words}
      </Text>
      {found.cure && found.cure_first && !odd && (
        <Flex gap={2} mt={2} wrap="wrap" align="center">
          <Button
            size="md"
            onClick={() => cure.mutate({ fault: found.cure?.fault.name, helped: true, ...here(by) })}
          >
            Done, and it works
          </Button>
          <Button
            size="md"
            variant="outline"
            onClick={() => cure.mutate({ fault: found.cure?.fault.name, helped: false, ...here(by) })}
          >
            Done, and it is still dark
          </Button>
        </Flex>
      )}
      {!found.cure_first && next && looks.get(next.test) && (
        <Question look={looks.get(next.test) as LinkLook} next={next} names={namesOf(found)} onSay={say} />
      )}
      <Flex gap={4} mt={2} wrap="wrap">
        {found.first
          .filter((one) => !answered.has(one.name))
          .map((one) => (
            <Question key={one.name} look={one} onSay={say} small />
          ))}
      </Flex>
      <ProblemNote error={look.error ?? cure.error ?? back.error} />
      <Flex gap={6} wrap="wrap" mt={3} align="flex-start">
        <Believed found={found} />
        <Box flex="1" minW="280px">
          <Heading as="h3" size="xs" fontWeight={600}>
            What was seen
          </Heading>
          {found.answers.length === 0 && <Text fontSize="13px">Nothing yet.</Text>}
          {read.length > 0 && (
            <Box as="details" fontSize="13px" borderTopWidth="1px" py="3px">
              <summary style={{ cursor: "pointer" }}>{read.length} things were read at the ports</summary>
              {read.map((one) => (
                <Flex key={one.test} gap={2} align="center" wrap="wrap">
                  <Text flex="1" minW="180px">
                    {one.asks} <b>{one.outcome_words}</b>
                  </Text>
                  <Button
                    size="xs"
                    variant="outline"
                    aria-label={`Leave out: ${one.asks} ${one.outcome_words}`}
                    onClick={() => onLeaveOut(one.test)}
                  >
                    Leave out
                  </Button>
                </Flex>
              ))}
            </Box>
          )}
          {said.map((one) => (
            <Flex
              key={one.test}
              gap={2}
              align="center"
              fontSize="13px"
              borderTopWidth="1px"
              py="3px"
              wrap="wrap"
              data-answer={one.test}
            >
              <Box flex="1" minW="180px">
                {one.asks} <b>{one.outcome_words}</b>
                {one.impossible ? ": no fault gives that with the others" : ""}
              </Box>
              <Button
                size="xs"
                variant="outline"
                aria-label={`Take back: ${one.asks} ${one.outcome_words}`}
                onClick={() => (one.read ? onLeaveOut(one.test) : back.mutate({ key: one.key, why: "taken back" }))}
              >
                Take back
              </Button>
            </Flex>
          ))}
          {others.length > 0 && (
            <details>
              <Text as="summary" fontSize="13px" mt={2} cursor="pointer">
                Other looks
              </Text>
              {others.map((one) => {
                const known = looks.get(one.test);
                return (
                  known && (
                    <Question key={one.test} look={known} next={one} names={namesOf(found)} onSay={say} small />
                  )
                );
              })}
            </details>
          )}
        </Box>
      </Flex>
    </Box>
  );
}

const namesOf = (found: DiagnosisOut): Record<string, string> =>
  Object.fromEntries(found.faults.map((one) => [one.fault.name, one.fault.words]));

function Believed({ found }: { found: DiagnosisOut }) {
  return (
    <Box flex="1" minW="280px" data-testid="believed">
      <Heading as="h3" size="xs" fontWeight={600}>
        What it probably is
      </Heading>
      {found.faults
        .filter((one) => one.share >= 0.005)
        .slice(0, 8)
        .map((one) => (
          <Flex key={one.fault.name} gap={2} align="center" fontSize="13px" borderTopWidth="1px" py="3px">
            <Box
              width="64px"
              flexShrink={0}
              height="10px"
              borderWidth="1px"
              borderColor="border.emphasized"
              aria-hidden
            >
              <Box height="100%" width={`${one.share * 100}%`} bg="fg" />
            </Box>
            <Box width="44px" className="figures" flexShrink={0}>
              {shareText(one.share)}
            </Box>
            <span>{one.fault.words}</span>
          </Flex>
        ))}
      <Text fontSize="12px" color="fg.muted" mt={1}>
        Shares start from a house table (estimate) and move with each answer.
        {found.tried.length ? ` Tried in vain: ${found.tried.length}.` : ""}
      </Text>
    </Box>
  );
}
