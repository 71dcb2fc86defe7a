import { Box, Heading, Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { LinkRow, PlantOut } from "../shared/api";
import { lengthText, rateText, sourceText } from "../shared/format";
import { useSettings } from "../shared/settings";

const CAUTIONS: [string, string][] = [
  ["power", "Power conductors share this way: mains work is an electrician's, and only all-dielectric cable may lie beside them where the local code says so."],
  ["aerial", "Work at height: local codes and licensed people decide."],
  ["trench", "Work in the ground: locate what is buried, mind depth and warning tape; local codes and licensed people decide."],
  ["wet", "Wet way: glands and drip loops at its ends."],
];

/** The way in hand: what is in it, how full it is, and who goes dark when it is cut. */
export function PartPanel({ plant, way: id, links, onLink }: { plant: PlantOut; way: string | null; links: readonly LinkRow[]; onLink: (id: number | null) => void }) {
  const { unit } = useSettings();
  const way = (plant.plant.ways ?? []).find((one) => one.id === id);
  if (!way) return <Worst plant={plant} />;
  const row = plant.ways.find((one) => one.id === way.id);
  const outage = plant.outages.find((one) => one.kind === "way" && one.id === way.id);
  const names = new Map(links.map((link) => [link.id, link.name]));
  const applies = { power: way.power_conductors, aerial: way.kind === "aerial", trench: way.kind === "trench", wet: way.wet } as Record<string, boolean | undefined>;
  const bends = (way.bends_deg ?? []).reduce((sum, bend) => sum + bend, 0);
  return (
    <Box as="section" aria-label={`Way: ${way.name}`} fontSize="13px">
      <Heading as="h2" size="sm" fontWeight={600}>{way.name}</Heading>
      <Text>
        {way.kind}, {lengthText(way.length_m, unit)}
        {way.rise_m ? `, rises ${lengthText(way.rise_m, unit)}` : ""}, {way.state}
        {bends ? `; ${way.bends_deg?.length} bends, ${bends}° in all` : ""}
        {way.hazard ? `; ${way.hazard}` : ""}
      </Text>
      {row?.fill && (
        <Text mt={1} fontWeight={row.fill.share > row.fill.limit ? 600 : 400}>
          {Math.round(row.fill.share * 100)} % of the bore is taken by {row.fill.cables} cables; {row.fill.share > row.fill.limit ? "overfull: " : ""}the limit is{" "}
          {Math.round(row.fill.limit * 100)} %, {row.fill.binding ? "binding beside power conductors" : "good practice here"} ({sourceText(row.fill.source)}).
        </Text>
      )}
      {row && row.unmeasured > 0 && way.bore_mm && <Text>{row.unmeasured} cables have no diameter and are not in that sum.</Text>}
      {row && row.metal_by_power.length > 0 && <Text fontWeight={600}>Metal in {row.metal_by_power.join(", ")} beside power conductors: not allowed in a shared duct, and it must be bonded.</Text>}
      <Heading as="h3" size="xs" fontWeight={600} mt={3}>If it is cut</Heading>
      {outage ? (
        <>
          <Text data-testid="outage">
            {outage.links.length} {outage.links.length === 1 ? "link goes" : "links go"}.{" "}
            {outage.ends.map((end) => (end.dark ? `${end.place} goes dark` : `${end.place} keeps ${rateText(end.left_mbps)}`)).join("; ")}.
          </Text>
          {outage.links.map((link) => (
            <Box key={link} onMouseEnter={() => onLink(link)} onMouseLeave={() => onLink(null)}>
              <RouterLink to={`/links/${link}`} onFocus={() => onLink(link)} onBlur={() => onLink(null)}>
                {names.get(link) ?? `link ${link}`}
              </RouterLink>
            </Box>
          ))}
        </>
      ) : (
        <Text data-testid="outage">No link rides on it.</Text>
      )}
      {CAUTIONS.filter(([key]) => applies[key]).map(([key, words]) => (
        <Text key={key} mt={2} borderLeftWidth="3px" borderColor="fg" pl={2}>{words}</Text>
      ))}
    </Box>
  );
}

/** Without a way in hand: the worst single cuts, and pairs of links that are not two paths. */
function Worst({ plant }: { plant: PlantOut }) {
  const dark = plant.outages.filter((outage) => outage.ends.some((end) => end.dark));
  const joined = plant.pairs.filter((pair) => pair.shared.ways.length + pair.shared.cables.length + pair.shared.places.length > 0);
  return (
    <Box fontSize="13px">
      <Heading as="h2" size="sm" fontWeight={600}>Worst single cuts</Heading>
      {dark.length === 0 && <Text color="fg.muted">No single cut darkens an end, or no link rides on the plant yet.</Text>}
      {dark.slice(0, 6).map((outage) => (
        <Text key={outage.kind + outage.id} mt={1}>
          <b>{outage.name}</b> ({outage.kind}): {outage.ends.filter((end) => end.dark).map((end) => end.place).join(", ")} dark
        </Text>
      ))}
      {joined.map((pair) => (
        <Text key={`${pair.first}-${pair.second}`} mt={2} data-testid="not-diverse">
          <RouterLink to={`/links/${pair.first}`}>Link {pair.first}</RouterLink> and <RouterLink to={`/links/${pair.second}`}>link {pair.second}</RouterLink> are not two paths: they share{" "}
          {[...pair.shared.ways, ...pair.shared.places, ...pair.shared.cables].join(", ")}.
        </Text>
      ))}
    </Box>
  );
}
