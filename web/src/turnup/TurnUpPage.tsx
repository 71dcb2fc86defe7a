import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link as RouterLink } from "react-router";

import type { Project, TurnUpLink, Verdict } from "../shared/api";
import { PlaceChoice } from "../shared/PlaceChoice";
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
          <PlaceChoice links={links} value={place} onChange={setPlace} />
          <Text data-testid="turnup-sum">
            {lit} of {links.length} lit as planned{found.data?.dark ? `, ${found.data.dark} dark` : ""}.
          </Text>
        </Flex>
      )}
      <Box as="ol" mt={2} p={0} listStyleType="none">
        {shown.map((one) => (
          <Row key={one.id} link={one} />
        ))}
      </Box>
    </Box>
  );
}

function Row({ link }: { link: TurnUpLink }) {
  const width = 84;
  const share = link.steps ? (link.done / link.steps) * (width - 1) : 0;
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
      <Box width="230px" fontWeight={600}>
        <RouterLink to={`/turnup/${link.id}`}>{link.name}</RouterLink>
      </Box>
      <Flex gap={1} align="center" width="180px">
        <svg width={width} height="12" role="img" aria-label={`${link.done} of ${link.steps} steps done`}>
          <rect
            x="0.5"
            y="1.5"
            width={width - 1}
            height="9"
            fill="none"
            stroke="var(--chakra-colors-border-emphasized)"
          />
          <rect x="0.5" y="1.5" width={share} height="9" fill="var(--chakra-colors-fg)" />
        </svg>
        <span className="figures">
          {link.done}/{link.steps} steps
        </span>
      </Flex>
      <Text color="fg.muted">
        {link.state === "no light"
          ? "no module of light at both ends"
          : `${link.ends_read} of 2 ends read${link.differs ? `, ${link.differs} not as planned` : ""}; plan: ${link.verdict}`}
      </Text>
    </Flex>
  );
}
