import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";

import type { Catalog, Method, MethodWish, Project } from "../shared/api";
import { LayForm } from "./LayForm";
import { SampleChain } from "./SampleChain";
import { useAddress } from "../shared/useAddress";

interface Props {
  method: Method;
  wish: MethodWish;
  project: Project | undefined;
  catalog?: Catalog;
  first: boolean;
}

/** One set of parts: drawn as the links that it makes, what is bought, which ends have pins, what a move costs. */
export function MethodCard({ method, wish, project, catalog, first }: Props) {
  const [params, put] = useAddress();
  const open = params.get("lay") === method.key;
  const cost = method.moves.reduce((sum, move) => sum + (move.price ?? 0), 0).toFixed(0);
  const letter = method.letter ? `, type ${method.letter}` : "";
  return (
    <Box as="section" aria-label={method.key} mt={3} borderTopWidth={first ? "2px" : "1px"} pt={2}>
      <Flex gap={3} align="baseline" wrap="wrap">
        <Heading as="h2" size="sm" fontWeight={600}>
          {method.key}
          {letter}
        </Heading>
        <Text fontSize="13px" color="fg.muted">
          {method.kinds} kinds of cords and cassettes · {method.trunks} trunk{method.trunks === 1 ? "" : "s"} of{" "}
          {method.array} fibers, {method.polish === "APC" ? "angled" : "flat"}
        </Text>
        <Button
          size="xs"
          variant="outline"
          onClick={() => put("lay", open ? null : method.key)}
          aria-expanded={open}
        >
          {open ? "Close" : "Lay a link over it"}
        </Button>
      </Flex>
      {method.samples?.map((link) => (
        <SampleChain key={link.name} link={link} catalog={catalog} />
      ))}
      <Flex gap={6} wrap="wrap" fontSize="13px" mt={1}>
        <Box>
          <b>Bought</b>
          {method.parts.map((words) => (
            <Text key={words}>{words}</Text>
          ))}
          <Text color="fg.muted">{method.why}</Text>
          {method.later && method.later.links < wish.links && (
            <Text fontWeight={600} data-testid="trunks-later">
              Later {method.trunks === 1 ? "this trunk carries" : `these ${method.trunks} trunks carry`}{" "}
              {method.later.links} of {wish.links} links of {method.later.application}: for all of them pull{" "}
              {method.later.trunks} now.
            </Text>
          )}
        </Box>
        <Box maxW="380px">
          <b>Pins</b>
          <Text>{method.pinned}</Text>
        </Box>
        {method.moves.length > 0 && (
          <Box>
            <b>
              From pairs to arrays, a trunk: {cost} {project?.house_rules.currency}
            </b>
            {method.moves.map((move) => (
              <Text key={move.what}>
                <span className="figures">{move.count}</span> × {move.what}
              </Text>
            ))}
          </Box>
        )}
      </Flex>
      {open && <LayForm method={method} wish={wish} project={project} />}
    </Box>
  );
}
