import { Box, Flex, Heading, Input, Text } from "@chakra-ui/react";

import type { Catalog, MethodWish, Project } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { Toggle } from "../shared/Toggle";
import { Waiting } from "../shared/Waiting";
import { sourceText } from "../shared/format";
import { useCatalog } from "../shared/queries";
import { useAddress } from "../shared/useAddress";
import { MethodCard } from "./MethodCard";
import { useMethods } from "./queries";

type When = MethodWish["duplex_when"];
const WHEN: readonly (readonly [string, string])[] = [
  ["now", "now"],
  ["later", "later"],
  ["never", "never"],
];

/** From what will run on a backbone: one set of trunk, adapters, cassettes and cords that lights for all of it. */
export function BackbonePage({ project }: { project: Project | undefined }) {
  const [params, put] = useAddress();
  const catalog = useCatalog().data;
  const wish: MethodWish = {
    duplex: params.get("pair") ?? "10GBASE-SR",
    parallel: params.get("lanes") ?? "100GBASE-SR4",
    duplex_when: (params.get("pairWhen") ?? "now") as When,
    parallel_when: (params.get("lanesWhen") ?? "later") as When,
    links: Math.max(1, Number(params.get("links")) || 6),
    like_cords: params.get("likeCords") !== "0",
  };
  const found = useMethods(project, wish);
  const [pairs, arrays] = applications(catalog);
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Heading as="h1" size="md" fontWeight={600}>
        Backbone
      </Heading>
      <Text color="fg.muted" fontSize="13px">
        Say what will run between two rooms, now and later. Each set below was composed position by position and
        lights for all of it; choose one and keep to it for every trunk of the project.
      </Text>
      <Flex gap={4} wrap="wrap" align="center" mt={2} fontSize="13px">
        <Flex gap={1} align="center">
          pairs <Choice label="Pairs" value={wish.duplex ?? ""} options={pairs} onChange={(v) => put("pair", v)} />
          <Choice
            label="Pairs run"
            value={wish.duplex_when ?? "now"}
            options={WHEN}
            onChange={(v) => put("pairWhen", v)}
          />
        </Flex>
        <Flex gap={1} align="center">
          arrays{" "}
          <Choice label="Arrays" value={wish.parallel ?? ""} options={arrays} onChange={(v) => put("lanes", v)} />
          <Choice
            label="Arrays run"
            value={wish.parallel_when ?? "later"}
            options={WHEN}
            onChange={(v) => put("lanesWhen", v)}
          />
        </Flex>
        <Flex gap={1} align="center">
          links{" "}
          <Input
            size="xs"
            width="64px"
            inputMode="numeric"
            aria-label="Links"
            className="figures"
            defaultValue={wish.links}
            onChange={(event) => put("links", event.target.value)}
          />
        </Flex>
        <Toggle
          words="same cords at both ends first"
          on={wish.like_cords ?? true}
          onChange={() => put("likeCords", wish.like_cords ? "0" : null)}
        />
      </Flex>
      <ProblemNote error={found.error} />
      <Waiting on={found.isLoading} words="Composing every set" />
      {found.data?.mixed?.map((words) => (
        <Text key={words} role="status" mt={2} p={2} borderWidth="1px" fontSize="13px">
          <b>Mixed.</b> {words}
        </Text>
      ))}
      {found.data?.methods.length === 0 && (
        <Text mt={3}>
          Nothing is asked to run: set pairs or arrays to now or later, and the sets that light are drawn here.
        </Text>
      )}
      {found.data?.methods.map((method, i) => (
        <MethodCard
          key={method.key}
          method={method}
          wish={wish}
          project={project}
          catalog={catalog}
          first={i === 0}
        />
      ))}
      {found.data && (
        <Text color="fg.muted" fontSize="12px" mt={3}>
          {found.data.sources?.map(sourceText).join("; ")}
        </Text>
      )}
    </Box>
  );
}

/** Applications of a pair, and over arrays, by name. */
function applications(catalog: Catalog | undefined): [[string, string][], [string, string][]] {
  const all = catalog?.applications ?? [];
  const named = (array: boolean) =>
    all
      .filter((one) => Boolean(one.array) === array && one.fibers !== 1)
      .map((one): [string, string] => [one.name, one.name]);
  return [named(false), named(true)];
}
