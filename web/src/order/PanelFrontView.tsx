import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { PanelFront, PanelPort } from "../shared/api";
import { PlainTable } from "../shared/PlainTable";
import { STRAND_COLORS } from "../shared/colors";

/** A panel from the front: its ports in order as openings with the strands behind in their colors; below, in words. */
export function PanelFrontView({ front }: { front: PanelFront }) {
  const holes = front.frame
    ? Array.from({ length: front.holes }, (_, i) => i + 1)
    : front.ports.map((_, i) => i + 1);
  const at = (hole: number): PanelPort | undefined =>
    front.frame ? front.ports.find((port) => port.hole === hole) : front.ports[hole - 1];
  return (
    <Box as="section" aria-label={front.name} mt={4} css={{ breakInside: "avoid" }}>
      <Heading as="h2" size="sm" fontWeight={600}>
        {front.label ? `${front.label}, ` : ""}
        {front.name}
        {front.place && !front.name.includes(front.place) ? `, ${front.place}` : ""}
      </Heading>
      <Flex wrap="wrap" gap="4px" mt={1} maxW="1000px" borderWidth="1px" borderColor="fg" p="5px">
        {holes.map((hole) => (
          <Opening key={hole} number={hole} port={at(hole)} />
        ))}
      </Flex>
      <PlainTable
        label={`Ports of ${front.name}`}
        head={["port", "label", "adapter", "strands behind", "link", "leads to"]}
        rows={holes
          .map((hole) => [hole, at(hole)] as const)
          .filter((pair): pair is readonly [number, PanelPort] => pair[1] !== undefined)
          .map(([hole, port]) => ({
            key: String(hole),
            cells: [
              hole,
              port.label || "no label yet",
              port.adapter,
              port.behind
                .map(
                  (b) => `${b.cable}: ${b.number} ${b.color}${b.tube ? ` in tube ${b.tube} ${b.tube_color}` : ""}`,
                )
                .join("; ") || "free",
              port.link ? (
                <RouterLink key="link" to={`/links/${port.link}?piece=${port.element}&lens=build`}>
                  {port.link_name}
                </RouterLink>
              ) : (
                "free"
              ),
              port.leads_to,
            ],
          }))}
      />
    </Box>
  );
}

function Opening({ number, port }: { number: number; port: PanelPort | undefined }) {
  return (
    <Box
      width="44px"
      height="46px"
      borderWidth="1px"
      borderColor={port ? "fg" : "border"}
      textAlign="center"
      fontSize="11px"
      title={port ? `${port.label} ${port.adapter}` : "empty"}
    >
      <Text className="figures" lineHeight="15px">
        {number}
      </Text>
      <Flex justify="center" gap="3px" mt="3px">
        {port?.behind.slice(0, 2).map((b) => (
          <Box
            key={`${b.cable} ${b.number}`}
            width="14px"
            height="18px"
            borderWidth="1px"
            borderColor="fg"
            bg={STRAND_COLORS[b.color] ?? "bg"}
            title={`strand ${b.number} ${b.color}`}
          />
        ))}
        {port && port.behind.length === 0 && <Box width="30px" height="14px" borderWidth="1px" borderColor="fg" />}
        {port && port.behind.length > 2 && <span>+{port.behind.length - 2}</span>}
      </Flex>
    </Box>
  );
}
