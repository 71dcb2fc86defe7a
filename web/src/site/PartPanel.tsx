import { Box, Heading, Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { LinkRow, PlantOut, Project } from "../shared/api";
import { Care } from "../shared/Care";
import { lengthText, sourceText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { CutPanel } from "./CutPanel";
import { WorstCuts } from "./WorstCuts";

interface Props {
  project: Project | undefined;
  plant: PlantOut;
  way: string | null;
  links: readonly LinkRow[];
  onLink: (id: number | null) => void;
}

/** The way in hand: what is in it, how full it is, who goes dark when it is cut, and what would cure that. */
export function PartPanel({ project, plant, way: id, links, onLink }: Props) {
  const { unit } = useSettings();
  const way = (plant.plant.ways ?? []).find((one) => one.id === id);
  if (!way) return <WorstCuts plant={plant} links={links} onLink={onLink} />;
  const row = plant.ways.find((one) => one.id === way.id);
  const outage = plant.outages.find((one) => one.kind === "way" && one.id === way.id);
  const bends = (way.bends_deg ?? []).reduce((sum, bend) => sum + bend, 0);
  const inside = (plant.plant.cables ?? []).filter((cable) => row?.cables.includes(cable.id));
  return (
    <Box as="section" aria-label={`Way: ${way.name}`} fontSize="13px">
      <Heading as="h2" size="sm" fontWeight={600}>
        {way.name}
      </Heading>
      <Text>
        {way.kind}, {lengthText(way.length_m, unit)}
        {way.rise_m ? `, rises ${lengthText(way.rise_m, unit)}` : ""}, {way.state}
        {bends ? `; ${way.bends_deg?.length} bends, ${bends}° in all` : ""}
        {(way.pull_points_m ?? []).length > 0 ? `; ${way.pull_points_m?.length} pull points` : ""}
        {way.hazard ? `; ${way.hazard}` : ""}
      </Text>
      {row?.fill && (
        <Text mt={1} fontWeight={row.fill.share > row.fill.limit ? 600 : 400}>
          {Math.round(row.fill.share * 100)} % of the bore is taken by {row.fill.cables} cables;{" "}
          {row.fill.share > row.fill.limit ? "overfull: " : ""}the limit is {Math.round(row.fill.limit * 100)} %,{" "}
          {row.fill.binding ? "binding beside power conductors" : "good practice here"} (
          {sourceText(row.fill.source)}).
        </Text>
      )}
      {row && row.unmeasured > 0 && way.bore_mm && (
        <Text>{row.unmeasured} cables have no diameter and are not in that sum.</Text>
      )}
      {row && row.metal_by_power.length > 0 && (
        <Text fontWeight={600}>
          Metal in {row.metal_by_power.join(", ")} beside power conductors: not allowed in a shared duct, and it
          must be bonded.
        </Text>
      )}
      {inside.length > 0 && (
        <Text mt={1}>
          In it:{" "}
          {inside.map((cable, i) => (
            <span key={cable.id}>
              {i > 0 ? ", " : ""}
              <RouterLink to={`/site/strands?cable=${encodeURIComponent(cable.id)}`}>{cable.name}</RouterLink>
            </span>
          ))}
          .
        </Text>
      )}
      <Heading as="h3" size="xs" fontWeight={600} mt={3}>
        If it is cut
      </Heading>
      {outage ? (
        <CutPanel project={project} outage={outage} links={links} onLink={onLink} />
      ) : (
        <Text data-testid="outage">No link rides on it.</Text>
      )}
      <Care lines={plant.cautions[way.id] ?? []} />
    </Box>
  );
}
