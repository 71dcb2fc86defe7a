import { Box, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { useSearchParams } from "react-router";

import type { Layouts, Project } from "../shared/api";
import { Choice } from "../shared/Choice";
import { PlainTable } from "../shared/PlainTable";
import { ProblemNote } from "../shared/ProblemNote";
import { Waiting } from "../shared/Waiting";
import { Toggle } from "../shared/Toggle";
import { lengthText, rateText, sourceText } from "../shared/format";
import { usePlant, usePlantQuery } from "../shared/queries";
import { useSettings } from "../shared/settings";
import { Bars } from "../draw/Bars";
import { evenScale, roundUp } from "../draw/scale";
import { NothingYet } from "./NothingYet";
import { LayoutStrip } from "./LayoutStrip";
import { farthest } from "./layoutRows";

/** Star, tapped chain, ring and tree for the same places, side by side. */
export function LayoutsPage({ project }: { project: Project | undefined }) {
  const { unit } = useSettings();
  const [params, setParams] = useSearchParams();
  const whole = usePlant(project).data;
  const plant = whole?.plant;
  const places = plant?.places ?? [];
  const hung = [...new Set((plant?.devices ?? []).map((device) => device.place))];
  const core = params.get("core") ?? whole?.strips.roots[0]?.place ?? "";
  const strands = params.get("strands") === "1" ? "1" : "2";
  const chosen = params.get("places")?.split(",").filter(Boolean) ?? hung;
  const wanted = chosen.filter((id) => id !== core);
  const found = usePlantQuery<Layouts>(
    project,
    "layouts",
    { core, place: wanted, strands },
    core !== "" && wanted.length > 0,
  );
  const name = (id: string) => places.find((place) => place.id === id)?.name ?? id;
  const put = (next: Record<string, string>) =>
    setParams((before) => ({ ...Object.fromEntries(before), ...next }), { replace: true });
  const toggle = (id: string) =>
    put({ places: (chosen.includes(id) ? chosen.filter((one) => one !== id) : [...chosen, id]).join(",") });
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Heading as="h1" size="md" fontWeight={600}>
        Layouts compared
      </Heading>
      <Text color="fg.muted" fontSize="13px">
        The same places as star, tapped chain, ring and tree, over the ways that exist. What they want follows from
        the devices that hang there.
      </Text>
      <Flex gap={1} align="center" mt={2} fontSize="13px" wrap="wrap" display={places.length > 0 ? "flex" : "none"}>
        core{" "}
        <Choice
          label="Core"
          value={core}
          options={places.map((place) => [place.id, place.name])}
          onChange={(value) => put({ core: value })}
        />
        {" each place takes "}
        <Choice
          label="Strands for each place"
          value={strands}
          options={[
            ["2", "two strands"],
            ["1", "one strand, two wavelengths"],
          ]}
          onChange={(value) => put({ strands: value })}
        />
      </Flex>
      <Flex role="group" aria-label="Places" gap={1} wrap="wrap" mt={1} fontSize="13px">
        {places
          .filter((place) => place.id !== core && place.kind !== "site")
          .map((place) => (
            <Toggle
              key={place.id}
              words={place.name}
              on={chosen.includes(place.id)}
              onChange={() => toggle(place.id)}
            />
          ))}
      </Flex>
      <ProblemNote error={found.error} />
      <Waiting on={found.isLoading} words="Laying out star, chain, ring and tree" />
      {plant && places.length === 0 && (
        <NothingYet needs="place" shows="star, chain, ring and tree beside each other, and what one fault takes" />
      )}
      {wanted.length === 0 && places.length > 0 && (
        <Text mt={3} color="fg.muted">
          Choose the places to reach, or hang devices on them in the tables.
        </Text>
      )}
      {found.data && wanted.length > 0 && (
        <Box mt={3} data-testid="layouts">
          <Drawn layouts={found.data} name={name} />
          <PlainTable
            label="Layouts"
            head={[
              "layout",
              "cable",
              "strands at core",
              "joints",
              "worst loss",
              "the worst fault takes",
              "core ports",
              "switches, uplinks",
              "asked / carried",
              "price",
            ]}
            figures={[1, 2, 3, 4, 6, 8, 9]}
            rows={found.data.layouts.map((layout) => ({
              key: layout.name,
              cells: [
                <b key="name">{layout.name}</b>,
                lengthText(layout.cable_m, unit),
                layout.strands_at_core,
                layout.joints,
                `${layout.longest.loss_db.toFixed(2)} dB`,
                layout.fault_takes === 0
                  ? "no place"
                  : `${layout.fault_takes} of ${layout.members.length}: ${layout.fault_kind} ${layout.fault_at}`,
                layout.core_ports,
                `${layout.core_switches}, ${layout.core_uplinks} × ${rateText(layout.uplink_mbps)}`,
                layout.oversubscribed.toFixed(1),
                layout.cost.toFixed(0),
              ],
            }))}
          />
          {found.data.layouts.map((layout) => (
            <Text key={layout.name} fontSize="13px" mt={1}>
              <b>{layout.name}</b>: {layout.why}{" "}
              {layout.name === "star" ? "" : `Order: ${layout.order.map(name).join(", ")}. `}Farthest:{" "}
              {layout.longest.name}, {lengthText(layout.longest.length_m, unit)}.{" "}
              {layout.warnings.map((warning) => (
                <b key={warning}>{warning} </b>
              ))}
            </Text>
          ))}
          <Text fontSize="12px" color="fg.muted" mt={2}>
            {found.data.sources.map(sourceText).join("; ")}
          </Text>
        </Box>
      )}
    </Box>
  );
}

/** The layouts side by side as strips, the cheapest first, each with its price and what one fault takes as bars. */
function Drawn({ layouts, name }: { layouts: Layouts; name: (id: string) => string }) {
  const { unit } = useSettings();
  const most = farthest(layouts.layouts, layouts.core);
  const price = evenScale(0, roundUp(Math.max(...layouts.layouts.map((one) => one.cost))), 0, 1);
  return (
    <Grid templateColumns={{ base: "1fr", xl: "1fr 1fr" }} gap={6} mb={4}>
      {layouts.layouts.map((layout) => (
        <Box key={layout.name} as="section" aria-label={`Layout ${layout.name}`}>
          <Heading as="h2" size="sm" fontWeight={600}>
            {layout.name}
          </Heading>
          <LayoutStrip layout={layout} core={layouts.core} most={most} name={name} />
          <Box maxW="560px">
            <Bars
              label={`${layout.name} in figures`}
              rows={[
                {
                  key: "price",
                  name: "price",
                  words: `Price ${layout.cost.toFixed(0)}`,
                  parts: [{ from: 0, to: price.at(layout.cost), look: "full" }],
                  end: layout.cost.toFixed(0),
                },
                {
                  key: "fault",
                  name: "one fault takes",
                  words: `One fault takes ${layout.fault_takes} of ${layout.members.length} places: ${layout.fault_kind} ${layout.fault_at}`,
                  parts: [
                    { from: 0, to: 1, look: "open" },
                    { from: 0, to: layout.fault_takes / Math.max(1, layout.members.length), look: "full" },
                  ],
                  end: `${layout.fault_takes} of ${layout.members.length}`,
                },
              ]}
            />
          </Box>
          <Text fontSize="12.5px" color="fg.muted">
            {lengthText(layout.cable_m, unit)} of cable.{" "}
            {layout.fault_takes > 0 ? `Worst: ${layout.fault_kind} ${layout.fault_at}.` : ""}
          </Text>
        </Box>
      ))}
    </Grid>
  );
}
