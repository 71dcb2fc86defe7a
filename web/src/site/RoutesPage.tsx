import { Box, Flex, Heading, Text } from "@chakra-ui/react";

import { useState } from "react";
import { useNavigate } from "react-router";

import type { DiversePair, Project, Route } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { Waiting } from "../shared/Waiting";
import { Toggle } from "../shared/Toggle";
import { lengthText, sourceText } from "../shared/format";
import { useCatalog, useLinks, usePlant, usePlantQuery } from "../shared/queries";
import { useSettings } from "../shared/settings";
import { useAddress } from "../shared/useAddress";
import { NothingYet } from "./NothingYet";
import { RouteCard } from "./RouteCard";
import { StripPlan } from "./StripPlan";

/** A way between two places: over free strands, then free room, then new work; apart from another link by choice. */
export function RoutesPage({ project }: { project: Project | undefined }) {
  const { unit } = useSettings();
  const [params, put] = useAddress();
  const plant = usePlant(project).data;
  const links = useLinks(project?.id).data ?? [];
  const catalog = useCatalog().data;
  const navigate = useNavigate();
  const grades = catalog?.fibers.map((fiber) => fiber.name) ?? [];
  const places = plant?.plant.places ?? [];
  const start = params.get("from") ?? plant?.strips.roots[0]?.place ?? "";
  const end = params.get("to") ?? "";
  const apart = params.get("apart") ?? "";
  const grade = params.get("grade") ?? "OS2";
  const fresh = params.get("new") === "1";
  const ready = start !== "" && end !== "" && start !== end;
  const query = { start, end, grade, new_ways: String(fresh), ...(apart ? { apart_from: apart } : {}) };
  const found = usePlantQuery<Route[]>(project, "routes", query, ready);
  const pair = usePlantQuery<DiversePair | null>(project, "diverse-pair", { start, end }, ready);
  const laid = new Set(plant?.paths.map((path) => path.link));
  const [looked, setLooked] = useState<readonly string[] | null>(null);
  const shown = looked ?? found.data?.[0]?.steps.flatMap((step) => step.ways) ?? [];
  const most = Math.max(1, ...(found.data ?? []).map((route) => route.length_m));
  const options = places.map((place) => [place.id, place.name] as const);
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Heading as="h1" size="md" fontWeight={600}>
        Routes
      </Heading>
      <Text color="fg.muted" fontSize="13px">
        Free strands are taken first, then room for another cable, then new work. Choose a link to stay apart from
        for a second path.
      </Text>
      <Flex gap={3} wrap="wrap" align="center" mt={2} fontSize="13px" display={places.length > 0 ? "flex" : "none"}>
        <Flex gap={1} align="center">
          from <Choice label="From" value={start} options={options} onChange={(value) => put("from", value)} />
        </Flex>
        <Flex gap={1} align="center">
          to{" "}
          <Choice
            label="To"
            value={end}
            options={[["", "choose a place"], ...options]}
            onChange={(value) => put("to", value)}
          />
        </Flex>
        <Flex gap={1} align="center">
          glass{" "}
          <Choice
            label="Glass"
            value={grade}
            options={grades.map((name) => [name, name])}
            onChange={(value) => put("grade", value)}
          />
        </Flex>
        <Flex gap={1} align="center">
          apart from{" "}
          <Choice
            label="Apart from"
            value={apart}
            options={[
              ["", "no link"],
              ...links.filter((row) => laid.has(row.id)).map((row) => [String(row.id), row.name] as const),
            ]}
            onChange={(value) => put("apart", value)}
          />
        </Flex>
        <Toggle
          words="new ways too, between places with positions"
          on={fresh}
          onChange={() => put("new", fresh ? "" : "1")}
        />
      </Flex>
      <ProblemNote error={found.error ?? pair.error} />
      <Waiting on={found.isLoading} words="Looking for routes" />
      {plant && places.length === 0 && (
        <NothingYet needs="place" shows="the way between two places over free strands, free room, or new work" />
      )}
      {!ready && places.length > 0 && (
        <Text mt={3} color="fg.muted">
          Choose two places: for example Harbor office and Lock house.
        </Text>
      )}
      <Flex gap={6} align="flex-start" direction={{ base: "column", lg: ready ? "row" : "column" }}>
        {ready && found.data && (
          <Box mt={3} data-testid="routes" aria-live="polite" width={{ base: "100%", lg: "420px" }} flexShrink={0}>
            {found.data.length === 0 && (
              <Text fontWeight={600}>No way leads there. Allow new ways, or add one in the tables.</Text>
            )}
            <Flex gap={4} wrap="wrap" align="flex-start">
              {found.data.map((route) => (
                <RouteCard
                  key={route.aim}
                  route={route}
                  project={project}
                  revision={plant?.revision ?? 0}
                  apart={apart}
                  grade={grade}
                  fresh={fresh}
                  most={most}
                  onLook={setLooked}
                />
              ))}
            </Flex>
            <Text mt={3} fontSize="13px" data-testid="diverse-pair">
              {pair.data
                ? `The shortest two ways on the plan that nothing takes together: ${pair.data.lengths_m.map((length) => lengthText(length, unit)).join(" and ")}. ${pair.data.doubts.join(" ")}`
                : pair.isSuccess &&
                  "Over the ways on the plan there are no two between these places that nothing takes together: one cut can take both."}
            </Text>
            <Text fontSize="12px" color="fg.muted">
              Prices are in the project's own units. {found.data[0]?.sources.map(sourceText).join("; ")}
            </Text>
          </Box>
        )}
        {plant && places.length > 0 && (plant.plant.ways ?? []).length > 0 && (
          <Box
            overflowX="auto"
            mt={3}
            borderBottomWidth="1px"
            pb={1}
            tabIndex={0}
            role="group"
            aria-label="The route on the plan"
          >
            <StripPlan
              plant={plant}
              catalog={catalog}
              chosen={null}
              lit={new Set(ready ? shown : [])}
              links={new Map(links.map((row) => [row.id, row.name]))}
              onChoose={(way) => navigate(`/site?way=${encodeURIComponent(way)}`)}
            />
          </Box>
        )}
      </Flex>
    </Box>
  );
}
