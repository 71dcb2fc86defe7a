import { Box, Button, Heading, Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { Cure, LinkRow, Outage, Project } from "../shared/api";
import { lengthText, rateText } from "../shared/format";
import { usePlantQuery } from "../shared/queries";
import { useSettings } from "../shared/settings";

interface Props {
  project: Project | undefined;
  outage: Outage;
  links: readonly LinkRow[];
  onLink: (id: number | null) => void;
}

/** What goes when one element goes: links, ends, and the cheapest way that would keep each dark end alight. */
export function CutPanel({ project, outage, links, onLink }: Props) {
  const { unit } = useSettings();
  const names = new Map(links.map((link) => [link.id, link.name]));
  const dark = outage.ends.some((end) => end.dark);
  const cures = usePlantQuery<Cure[]>(project, "cures", { kind: outage.kind, id: outage.id }, dark);
  return (
    <>
      <Text data-testid="outage">
        {outage.links.length} {outage.links.length === 1 ? "link goes" : "links go"}.{" "}
        {outage.ends
          .map((end) => (end.dark ? `${end.place} goes dark` : `${end.place} keeps ${rateText(end.left_mbps)}`))
          .join("; ")}
        .
      </Text>
      <Button size="2xs" variant="outline" my={1} asChild>
        <RouterLink to={`/ladder?cut=${encodeURIComponent(`${outage.kind}:${outage.id}`)}`}>
          Show on the ladder
        </RouterLink>
      </Button>
      {outage.links.map((link) => (
        <Box key={link} onMouseEnter={() => onLink(link)} onMouseLeave={() => onLink(null)}>
          <RouterLink to={`/links/${link}`} onFocus={() => onLink(link)} onBlur={() => onLink(null)}>
            {names.get(link) ?? `link ${link}`}
          </RouterLink>
        </Box>
      ))}
      {dark && (
        <Box mt={3} data-testid="cures">
          <Heading as="h3" size="xs" fontWeight={600}>
            Cheapest cure
          </Heading>
          {(cures.data ?? []).map((cure) => (
            <Text key={cure.place} mt={1}>
              <b>{cure.place}</b>:{" "}
              {cure.route
                ? `${cure.route.steps.map((step) => (step.kind === "strands" ? `strands of ${step.name}` : step.name)).join(", ")}; ${lengthText(cure.route.length_m, unit)}, ${cure.route.new_m > 0 ? `${lengthText(cure.route.new_m, unit)} of it new work, ` : ""}price ${cure.route.cost.toFixed(0)}.`
                : cure.why}
            </Text>
          ))}
        </Box>
      )}
    </>
  );
}
