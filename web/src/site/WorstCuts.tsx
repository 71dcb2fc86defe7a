import { Box, Button, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link as RouterLink } from "react-router";

import { Bars } from "../draw/Bars";
import type { LinkRow, PlantOut } from "../shared/api";

interface Props {
  plant: PlantOut;
  links: readonly LinkRow[];
  onLink: (id: number | null) => void;
}

const MOST = 60;
const FEW = 6;
const FEW_PAIRS = 6;
const ALL = 400;

/** Without a way in hand: the worst single cuts, links that are not two paths, and the links that ride on the plant. */
export function WorstCuts({ plant, links, onLink }: Props) {
  const [all, setAll] = useState(false);
  const dark = plant.outages.filter((outage) => outage.ends.some((end) => end.dark));
  const joined = plant.pairs.filter(
    (pair) => pair.shared.ways.length + pair.shared.cables.length + pair.shared.places.length > 0,
  );
  const name = (id: number) => links.find((link) => link.id === id)?.name ?? `link ${id}`;
  const called = new Map(
    [...(plant.plant.ways ?? []), ...(plant.plant.places ?? []), ...(plant.plant.cables ?? [])].map((row) => [
      row.id,
      row.name,
    ]),
  );
  const most = Math.max(1, ...dark.map((outage) => outage.ends.filter((end) => end.dark).length));
  return (
    <Box fontSize="13px">
      <Heading as="h2" size="sm" fontWeight={600}>
        Worst single cuts
      </Heading>
      {dark.length === 0 && (
        <Text color="fg.muted">No single cut darkens an end, or no link rides on the plant yet.</Text>
      )}
      <Bars
        label="Places that one cut darkens"
        testid="worst-cuts"
        rows={dark.slice(0, all ? ALL : FEW).map((outage) => {
          const gone = outage.ends.filter((end) => end.dark).map((end) => end.place);
          return {
            key: outage.kind + outage.id,
            name: (
              <>
                <RouterLink
                  to={
                    outage.kind === "way"
                      ? `/site?way=${encodeURIComponent(outage.id)}`
                      : `/ladder?cut=${encodeURIComponent(`${outage.kind}:${outage.id}`)}`
                  }
                >
                  <b>{outage.name}</b>
                </RouterLink>{" "}
                ({outage.kind}): {gone.join(", ")} dark
              </>
            ),
            words: `${outage.name}, ${outage.kind}: ${gone.join(", ")} dark`,
            parts: [{ from: 0, to: gone.length / most, look: "full" as const }],
            end: String(gone.length),
          };
        })}
      />
      {dark.length > FEW && (
        <Button size="2xs" variant="outline" mt={1} aria-expanded={all} onClick={() => setAll(!all)}>
          {all ? "only the worst" : `all ${dark.length} single points of failure`}
        </Button>
      )}
      {joined.slice(0, FEW_PAIRS).map((pair) => (
        <Text key={`${pair.first}-${pair.second}`} mt={2} data-testid="not-diverse">
          <RouterLink to={`/links/${pair.first}`}>{name(pair.first)}</RouterLink> and{" "}
          <RouterLink to={`/links/${pair.second}`}>{name(pair.second)}</RouterLink> are not two paths: they share{" "}
          {[...pair.shared.ways, ...pair.shared.places, ...pair.shared.cables]
            .map((id) => called.get(id) ?? id)
            .join(", ")}
          .
        </Text>
      ))}
      {joined.length > FEW_PAIRS && (
        <Text color="fg.muted" mt={1}>
          and {joined.length - FEW_PAIRS} more pairs that lie together on their way
        </Text>
      )}
      {plant.paths.length > 0 && (
        <Heading as="h3" size="xs" fontWeight={600} mt={3}>
          Links on the plant
        </Heading>
      )}
      <Box role="group" aria-label="Links on the plant">
        {plant.paths.slice(0, MOST).map((path) => (
          <Box key={path.link} onMouseEnter={() => onLink(path.link)} onMouseLeave={() => onLink(null)}>
            <RouterLink to={`/links/${path.link}`} onFocus={() => onLink(path.link)} onBlur={() => onLink(null)}>
              {name(path.link)}
            </RouterLink>
          </Box>
        ))}
      </Box>
      {plant.paths.length > MOST && (
        <Text color="fg.muted">and {plant.paths.length - MOST} more: find them on the ladder</Text>
      )}
    </Box>
  );
}
