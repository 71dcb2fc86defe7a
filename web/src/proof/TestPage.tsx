import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link as RouterLink } from "react-router";

import type { Project, TestedLink } from "../shared/api";
import { PlaceChoice } from "../shared/PlaceChoice";
import { ProblemNote } from "../shared/ProblemNote";
import { Downloads } from "../order/Downloads";
import { ReadingsTable } from "./ReadingsTable";
import { useTests } from "./queries";

const open = (link: TestedLink): number => link.missing + (link.faces - link.faces_done);

/** What is still to test, place by place, so that a crew leaves with nothing open. */
export function TestPage({ project }: { project: Project | undefined }) {
  const found = useTests(project);
  const [place, setPlace] = useState("");
  const links = found.data?.links ?? [];
  const shown = links.filter((link) => !place || link.places.includes(place));
  const rows = shown.reduce((sum, link) => sum + link.rows, 0);
  const missing = shown.reduce((sum, link) => sum + link.missing, 0);
  const failing = shown.reduce((sum, link) => sum + link.failing, 0);
  const holds = (found.data?.references ?? []).filter((one) => !one.why_void).length;
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Flex justify="space-between" align="baseline" wrap="wrap" gap={3}>
        <Heading as="h1" size="md" fontWeight={600}>
          Left to test
        </Heading>
        <Flex gap={1} wrap="wrap">
          <Button size="xs" variant="outline" className="no-print" asChild>
            <a href={`/api/v1/projects/${project?.id}/package.zip`} download>
              Package with traces and pictures
            </a>
          </Button>
          <Downloads projectId={project?.id} name="results" kinds={["csv", "xlsx", "json", "pdf"]} />
        </Flex>
      </Flex>
      <ProblemNote error={found.error} />
      {found.data && links.length === 0 && (
        <Text mt={2} maxW="70ch">
          No links yet. A link brings its test plan along: from "Harbor office" to "Lock house" two strands, two
          wavelengths, eight faces. Make one under Links, then its Proof lens says what each reading must be.
        </Text>
      )}
      {links.length > 0 && (
        <>
          <Flex gap={3} align="center" wrap="wrap" mt={2} fontSize="13px">
            <PlaceChoice links={links} value={place} onChange={setPlace} />
            <Text data-testid="tested-sum">
              {rows - missing} of {rows} readings taken{failing ? `, ${failing} not good` : ""}.{" "}
              {holds ? (
                `${holds} references hold.`
              ) : (
                <>
                  No reference holds: <RouterLink to="/test/references">take one</RouterLink> before the first
                  reading.
                </>
              )}
            </Text>
          </Flex>
          <ReadingsTable project={project} />
          <Box as="ol" mt={2} p={0} listStyleType="none">
            {shown.map((link) => (
              <Row key={link.id} link={link} />
            ))}
          </Box>
        </>
      )}
    </Box>
  );
}

function Row({ link }: { link: TestedLink }) {
  const taken = link.rows - link.missing;
  return (
    <Flex
      as="li"
      gap={3}
      align="center"
      wrap="wrap"
      borderTopWidth="1px"
      py="6px"
      fontSize="13px"
      data-tested={link.name}
    >
      <Box width="220px" fontWeight={600}>
        <RouterLink to={`/links/${link.id}?lens=proof`}>{link.name}</RouterLink>
      </Box>
      <Bar whole={link.rows} done={taken} bad={link.failing} words="readings" />
      <Bar whole={link.faces} done={link.faces_done} bad={0} words="faces" />
      <Bar whole={link.strands} done={link.strands_seen} bad={0} words="strands seen" />
      <Text color="fg.muted">
        {link.state.replace(/\.$/, "")}
        {open(link) ? `; about ${Math.round(link.minutes)} min in all` : ""}
      </Text>
    </Flex>
  );
}

/** How much of a kind of work is done: full is done, crossed is not good, open is still to do. */
function Bar({ whole, done, bad, words }: { whole: number; done: number; bad: number; words: string }) {
  const width = 84;
  const at = (count: number) => (whole ? (count / whole) * width : 0);
  return (
    <Flex gap={1} align="center" minW="180px">
      <svg width={width} height="12" role="img" aria-label={`${done} of ${whole} ${words}, ${bad} not good`}>
        <rect
          x="0.5"
          y="1.5"
          width={width - 1}
          height="9"
          fill="none"
          stroke="var(--chakra-colors-border-emphasized)"
        />
        <rect x="0.5" y="1.5" width={at(done)} height="9" fill="var(--chakra-colors-fg)" />
        {bad > 0 && (
          <path
            d={`M${at(done - bad)} 1.5L${at(done)} 10.5M${at(done)} 1.5L${at(done - bad)} 10.5`}
            stroke="var(--chakra-colors-bg)"
            strokeWidth="2"
          />
        )}
      </svg>
      <span className="figures" style={{ fontSize: 12 }}>
        {done}/{whole}
      </span>
      <span style={{ fontSize: 12 }}>{words}</span>
    </Flex>
  );
}
