import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { NetworkOut, Project } from "../shared/api";
import { rateText } from "../shared/format";
import { BoxesHead } from "./BoxesHead";
import { NetworkDrawing } from "./NetworkDrawing";
import { Warnings } from "./Warnings";
import { useNetwork } from "./queries";

/** The network as rows of boxes: the tree that is active, the port that blocks, and what a failure does. */
export function NetworkPage({ project }: { project: Project | undefined }) {
  const found = useNetwork(project);
  const out = found.data;
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <BoxesHead name="Network" project={project} error={found.error} />
      {out && out.boxes.length === 0 && (
        <Text mt={2} maxW="70ch" fontSize="13px">
          No boxes yet. Add two on the page <RouterLink to="/turnup/boxes">Boxes</RouterLink>, such as "Core 1" and
          "Lock 1", say at the ends of a link which ports they are, and the tree between them is drawn here: which
          port blocks, and whether that is the slow one.
        </Text>
      )}
      {out && out.boxes.length > 0 && <Told out={out} />}
    </Box>
  );
}

function Told({ out }: { out: NetworkOut }) {
  return (
    <>
      <Warnings warnings={out.warnings} links />
      {(out.tree.unknown ?? []).map((words) => (
        <Text key={words} fontSize="13px" my={1}>
          Not known: {words}.
        </Text>
      ))}
      {out.differs.map((words) => (
        <Text key={words} fontSize="13px" my={1} borderLeftWidth="3px" borderColor="fg" pl={2}>
          {words}.
        </Text>
      ))}
      <NetworkDrawing out={out} />
      <Heading as="h2" size="sm" fontWeight={600} mt={3}>
        When a link fails
      </Heading>
      <Box as="ul" p={0} listStyleType="none" fontSize="13px">
        {out.failures.map((one, i) => {
          const link = out.links[i];
          const number = link?.["id"];
          const opens = one.opens.map((port) => `${port.bridge} port ${port.port} opens`);
          const cut = one.cut_off.length ? [`${one.cut_off.join(", ")} cut off`] : [];
          const words = [...opens, ...cut].join("; ");
          return (
            <Flex as="li" key={one.link} gap={3} borderTopWidth="1px" py="3px" wrap="wrap">
              <Box width="230px" fontWeight={600}>
                {number ? <RouterLink to={`/turnup/${number}`}>{one.link}</RouterLink> : one.link}
              </Box>
              <Box width="90px">{rateText(Number(link?.["rate_mbps"] ?? 0))}</Box>
              <span>
                {words || ((one.unknown ?? []).length ? `not known: ${one.unknown?.[0]}` : "nothing else changes")}
              </span>
            </Flex>
          );
        })}
      </Box>
      <Text fontSize="12px" color="fg.muted" mt={2} maxW="90ch">
        Roles by IEEE 802.1Q. One broken strand of a pair can turn a port that blocks into a loop: ask for remote
        fault signalling at both ends, link pass-through at converters, and LACP where links are aggregated.{" "}
        {out.path_cost === "unknown" && (
          <>
            Nobody said which path-cost method is in use: both are reckoned. Say it in the{" "}
            <RouterLink to="/rules">house rules</RouterLink>.
          </>
        )}
      </Text>
    </>
  );
}
