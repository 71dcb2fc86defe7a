import { Box, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Project, SwitchPower } from "../shared/api";
import { Care } from "../shared/Care";
import { PlainTable } from "../shared/PlainTable";
import { VerdictMark } from "../shared/VerdictMark";
import { ProblemNote } from "../shared/ProblemNote";
import { lengthText, sourceText, withUnit } from "../shared/format";
import { usePlant, usePlantQuery, useRemotePower } from "../shared/queries";
import { useSettings } from "../shared/settings";
import { useSettled } from "../shared/useSettled";
import { SiteNav } from "./SiteNav";

const FIELDS = [
  ["source_v", "supply", "V"],
  ["length_m", "one way", ""],
  ["typical_w", "load usually", "W"],
  ["peak_w", "at its peak", "W"],
  ["device_min_v", "device needs", "V"],
  ["source_max_a", "supply gives at most", "A"],
  ["rated_a", "conductor rated for", "A"],
  ["hottest_c", "hottest", "°C"],
] as const;
type Field = (typeof FIELDS)[number][0];

/** Power at the far end: over two conductors by size, and over twisted pair by switch. */
export function PowerPage({ project }: { project: Project | undefined }) {
  const { unit } = useSettings();
  const [feed, setFeed] = useState<Record<Field, string>>({ source_v: "48", length_m: "250", typical_w: "6", peak_w: "15", device_min_v: "40", source_max_a: "", rated_a: "", hottest_c: "40" });
  const [budget, setBudget] = useState("");
  const numbers = Object.fromEntries(
    FIELDS.filter(([key]) => feed[key].trim() !== "").map(([key]) => [key, key === "length_m" ? withUnit(feed[key], unit) : feed[key].trim().replace(",", ".").replace("−", "-")]),
  );
  const found = useRemotePower(useSettled(numbers));
  const names = new Map((usePlant(project).data?.plant.places ?? []).map((place) => [place.id, place.name]));
  const switches = usePlantQuery<Record<string, SwitchPower>>(project, "switch-power", useSettled<Record<string, string>>(budget.trim() ? { budget_w: budget.replace(",", ".") } : {}));
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <SiteNav />
      <Heading as="h1" size="md" fontWeight={600}>Power at the far end</Heading>
      <Text color="fg.muted" fontSize="13px">Two conductors to a device of constant power. Its voltage at its peak decides; mains work is an electrician's.</Text>
      <Flex gap={3} wrap="wrap" mt={2} fontSize="13px">
        {FIELDS.map(([key, words, sign]) => (
          <label key={key}>
            {words} <Input size="xs" width="70px" className="figures" aria-label={`${words}${sign ? ` ${sign}` : ""}`} borderColor="border.emphasized" placeholder="not known" value={feed[key]} onChange={(event) => setFeed({ ...feed, [key]: event.target.value })} /> {sign || unit}
          </label>
        ))}
      </Flex>
      <ProblemNote error={found.error} />
      {found.data && (
        <Box mt={2} data-testid="feeds">
          <PlainTable
            label="Conductors"
            head={["conductor", "loop", "V at the peak", "A at the peak", "V usually", "verdict", "reaches", "why"]}
            figures={[1, 2, 3, 4, 6]}
            rows={found.data.map((row) => ({
              key: row.conductor,
              strong: row.verdict === "pass",
              cells: [
                row.conductor,
                `${row.loop_ohm.toFixed(2)} Ω`,
                row.peak_v == null ? "none" : row.peak_v.toFixed(1),
                row.peak_a == null ? "" : row.peak_a.toFixed(2),
                row.typical_v == null ? "none" : row.typical_v.toFixed(1),
                <Flex key="verdict" gap={1} align="center"><VerdictMark verdict={row.verdict} /> {row.verdict}</Flex>,
                row.reach_m == null ? "any" : lengthText(Math.floor(row.reach_m), unit),
                row.why,
              ],
            }))}
          />
          <Text fontSize="12px" color="fg.muted">V² − V·Vs + P·R = 0, R out and back at the hottest. {[...new Set(found.data.map((row) => sourceText(row.source)))].join("; ")}</Text>
        </Box>
      )}
      <Heading as="h2" size="sm" fontWeight={600} mt={5}>Over twisted pair, by switch</Heading>
      <label style={{ fontSize: 13 }}>
        budget of each switch <Input size="xs" width="70px" className="figures" aria-label="Budget W" borderColor="border.emphasized" placeholder="not known" value={budget} onChange={(event) => setBudget(event.target.value)} /> W
      </label>
      <ProblemNote error={switches.error} />
      {Object.entries(switches.data ?? {}).map(([place, power]) => (
        <Box key={place} mt={2}>
          <Text fontWeight={600} fontSize="13px">
            Switch at {names.get(place) ?? place}: {power.typical_w.toFixed(0)} W usually, {power.peak_w.toFixed(0)} W at the peak
            {power.budget_w == null ? "" : power.kept ? `, inside its ${power.budget_w} W` : `, more than its ${power.budget_w} W`}
          </Text>
          <PlainTable
            label={`Devices on the switch at ${place}`}
            head={["device", "at", "count", "class", "port gives", "works"]}
            figures={[2, 4]}
            rows={power.devices.map((row) => ({
              key: row.device + row.place,
              strong: !row.works,
              cells: [row.device, row.place, row.count, row.power_class || "none", `${row.port_w.toFixed(1)} W`, row.works ? "yes" : row.why],
            }))}
          />
          <Text fontSize="12px" color="fg.muted">{power.sources.map(sourceText).join("; ")}</Text>
        </Box>
      ))}
      {Object.keys(switches.data ?? {}).length === 0 && switches.isSuccess && <Text fontSize="13px" color="fg.muted">No device is fed from a switch: set "fed from" in the table of devices.</Text>}
      <Care lines={["Mains and direct-current supplies: an electrician decides on fusing, earthing and conductor rating; local codes and licensed people decide."]} />
    </Box>
  );
}
