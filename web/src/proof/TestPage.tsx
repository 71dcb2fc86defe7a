import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link as RouterLink } from "react-router";

import { DoneBar } from "../draw/DoneBar";
import { LinkName } from "../draw/LinkName";
import type { Catalog, LinkRow, Project, TestedLink } from "../shared/api";
import { PlaceChoice } from "../shared/PlaceChoice";
import { ProblemNote } from "../shared/ProblemNote";
import { useCatalog, useLinks } from "../shared/queries";
import { Downloads } from "../order/Downloads";
import { ReadingsTable } from "./ReadingsTable";
import { useTests } from "./queries";

const open = (link: TestedLink): number => link.missing + (link.faces - link.faces_done);

/** What is still to test, place by place, so that a crew leaves with nothing open. */
export function TestPage({ project }: { project: Project | undefined }) {
  const found = useTests(project);
  const [place, setPlace] = useState("");
  const links = found.data?.links ?? [];
  const catalog = useCatalog().data;
  const rowOf = new Map((useLinks(project?.id).data ?? []).map((row) => [row.id, row]));
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
            <PlaceChoice places={links.flatMap((one) => one.places)} value={place} onChange={setPlace} />
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
              <Row key={link.id} link={link} row={rowOf.get(link.id)} catalog={catalog} />
            ))}
          </Box>
        </>
      )}
    </Box>
  );
}

interface RowProps {
  link: TestedLink;
  row: LinkRow | undefined;
  catalog: Catalog | undefined;
}

function Row({ link, row, catalog }: RowProps) {
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
      <LinkName to={`/links/${link.id}?lens=proof`} name={link.name} row={row} catalog={catalog} />
      <DoneBar whole={link.rows} done={taken} bad={link.failing} words="readings" />
      <DoneBar whole={link.faces} done={link.faces_done} bad={0} words="faces" />
      <DoneBar whole={link.strands} done={link.strands_seen} bad={0} words="strands seen" />
      <Text color="fg.muted">
        {link.state.replace(/\.$/, "")}
        {open(link) ? `; about ${Math.round(link.minutes)} min in all` : ""}
      </Text>
    </Flex>
  );
}
