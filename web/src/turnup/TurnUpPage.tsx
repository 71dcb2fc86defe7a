import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { DoneBar } from "../draw/DoneBar";
import { LinkName } from "../draw/LinkName";
import type { Catalog, LinkRow, Project, TurnUpLink, Verdict } from "../shared/api";
import { PlaceChoice } from "../shared/PlaceChoice";
import { useCatalog, useLinks } from "../shared/queries";
import { VerdictMark } from "../shared/VerdictMark";
import { BoxesHead } from "./BoxesHead";
import { Warnings } from "./Warnings";
import { useTurnUps } from "./queries";

const MARK: Record<string, Verdict> = { lit: "pass", differs: "marginal", "half read": "unknown", dark: "fail" };

/** All links by how far their turn-up is: dark ones first, then those that differ, then those not begun. */
export function TurnUpPage({ project }: { project: Project | undefined }) {
  const found = useTurnUps(project);
  const [place, setPlace] = useState("");
  const links = found.data?.links ?? [];
  const catalog = useCatalog().data;
  const rowOf = new Map((useLinks(project?.id).data ?? []).map((row) => [row.id, row]));
  const order = ["dark", "differs", "half read", "not begun", "lit", "no light"];
  const shown = links
    .filter((one) => !place || one.places.includes(place))
    .sort((a, b) => order.indexOf(a.state) - order.indexOf(b.state) || a.id - b.id);
  const lit = links.filter((one) => one.state === "lit").length;
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <BoxesHead name="Left to turn up" project={project} error={found.error} />
      {found.data && links.length === 0 && (
        <Text mt={2} maxW="70ch" fontSize="13px">
          No links yet. A link brings its turn-up along: what to set before you leave, what is in the bag, which
          plug goes in first, and what both ends must read, such as −14 to −1 dBm received. Make one under Links.
        </Text>
      )}
      <Warnings warnings={found.data?.warnings ?? []} links />
      {links.length > 0 && (
        <Flex gap={3} align="center" wrap="wrap" mt={2} fontSize="13px">
          <PlaceChoice places={links.flatMap((one) => one.places)} value={place} onChange={setPlace} />
          <Text data-testid="turnup-sum">
            {lit} of {links.length} lit as planned{found.data?.dark ? `, ${found.data.dark} dark` : ""}.
          </Text>
        </Flex>
      )}
      <Box as="ol" mt={2} p={0} listStyleType="none">
        {shown.map((one) => (
          <Row key={one.id} link={one} row={rowOf.get(one.id)} catalog={catalog} />
        ))}
      </Box>
    </Box>
  );
}

interface RowProps {
  link: TurnUpLink;
  row: LinkRow | undefined;
  catalog: Catalog | undefined;
}

function Row({ link, row, catalog }: RowProps) {
  return (
    <Flex
      as="li"
      gap={3}
      align="center"
      wrap="wrap"
      borderTopWidth="1px"
      py="6px"
      fontSize="13px"
      data-turnup={link.name}
    >
      <Flex width="118px" gap={2} align="center">
        <VerdictMark verdict={MARK[link.state] ?? "unknown"} />
        {link.state === "half read" ? "not all read" : link.state}
      </Flex>
      <LinkName to={`/turnup/${link.id}`} name={link.name} row={row} catalog={catalog} />
      <DoneBar whole={link.steps} done={link.done} words="steps" />
      <Text color="fg.muted">
        {link.state === "no light"
          ? "no module of light at both ends"
          : `${link.ends_read} of 2 ends read${link.differs ? `, ${link.differs} not as planned` : ""}; plan: ${link.verdict}`}
      </Text>
    </Flex>
  );
}
