import { Box, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Project, SwitchPower } from "../shared/api";
import { Care } from "../shared/Care";
import { PlainTable } from "../shared/PlainTable";
import { VerdictMark } from "../shared/VerdictMark";
import { ProblemNote } from "../shared/ProblemNote";
import { lengthText, sourceText, withUnit } from "../shared/format";
import { usePlant, usePlantQuery } from "../shared/queries";
import { useRemotePower } from "./queries";
import { useSettings } from "../shared/settings";
import { useSettled } from "../shared/useSettled";

const FIELDS = [
  ["source_v", "supply", "V", "such as 48"],
  ["length_m", "one way", "", "such as 250"],
  ["peak_w", "at the device, peak", "W", "such as 15"],
  ["device_min_v", "device needs", "V", "not known"],
  ["typical_w", "at the device usually", "W", "not known"],
  ["source_max_a", "supply gives at most", "A", "not known"],
  ["rated_a", "conductor rated for", "A", "not known"],
  ["hottest_c", "hottest", "°C", "40 taken"],
] as const;
const NEEDED = FIELDS.slice(0, 3);
type Field = (typeof FIELDS)[number][0];

/** Power at the far end: over two conductors by size, and over twisted pair by switch. */
export function PowerPage({ project }: { project: Project | undefined }) {
  const { unit } = useSettings();
  const [feed, setFeed] = useState<Record<Field, string>>({
    source_v: "",
    length_m: "",
    typical_w: "",
    peak_w: "",
    device_min_v: "",
    source_max_a: "",
    rated_a: "",
    hottest_c: "",
  });
  const [budget, setBudget] = useState("");
  const numbers = Object.fromEntries(
    FIELDS.filter(([key]) => feed[key].trim() !== "").map(([key]) => [
      key,
      key === "length_m" ? withUnit(feed[key], unit) : feed[key].trim().replace(",", ".").replace("−", "-"),
    ]),
  );
  const missing = NEEDED.filter(([key]) => feed[key].trim() === "").map(([, words]) => words);
  const found = useRemotePower(useSettled(numbers), missing.length === 0);
  const names = new Map((usePlant(project).data?.plant.places ?? []).map((place) => [place.id, place.name]));
  const switches = usePlantQuery<Record<string, SwitchPower>>(
    project,
    "switch-power",
    useSettled<Record<string, string>>(budget.trim() ? { budget_w: budget.replace(",", ".") } : {}),
  );
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Heading as="h1" size="md" fontWeight={600}>
        Power at the far end
      </Heading>
      <Text color="fg.muted" fontSize="13px">
        Two conductors to a device of constant power. Its voltage at its peak decides; mains work is an
        electrician's.
      </Text>
      <Flex gap={3} wrap="wrap" mt={2} fontSize="13px">
        {FIELDS.map(([key, words, sign, hint]) => (
          <label key={key}>
            {words}{" "}
            <Input
              size="xs"
              width="92px"
              className="figures"
              aria-label={`${words}${sign ? ` ${sign}` : ""}`}
              borderColor="border.emphasized"
              placeholder={hint}
              value={feed[key]}
              onChange={(event) => setFeed({ ...feed, [key]: event.target.value })}
            />{" "}
            {sign || unit}
          </label>
        ))}
      </Flex>
      {missing.length > 0 && (
        <Text fontSize="13px" mt={2}>
          Still needed for an answer: {missing.join("; ")}. The rest may stay empty; what is then not checked is
          said.
        </Text>
      )}
      <ProblemNote error={found.error} />
      {found.data && missing.length === 0 && (
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
                numbers.typical_w === undefined ? "" : row.typical_v == null ? "none" : row.typical_v.toFixed(1),
                <Flex key="verdict" gap={1} align="center">
                  <VerdictMark verdict={row.verdict} /> {row.verdict}
                </Flex>,
                row.reach_m == null ? "any" : lengthText(Math.floor(row.reach_m), unit),
                row.why,
              ],
            }))}
          />
          <Text fontSize="12px" color="fg.muted">
            V² − V·Vs + P·R = 0, R out and back at the hottest.{" "}
            {[...new Set(found.data.map((row) => sourceText(row.source)))].join("; ")}
          </Text>
        </Box>
      )}
      <Heading as="h2" size="sm" fontWeight={600} mt={5}>
        Over twisted pair, by switch
      </Heading>
      <label style={{ fontSize: 13 }}>
        budget of each switch{" "}
        <Input
          size="xs"
          width="70px"
          className="figures"
          aria-label="Budget W"
          borderColor="border.emphasized"
          placeholder="not known"
          value={budget}
          onChange={(event) => setBudget(event.target.value)}
        />{" "}
        W
      </label>
      <ProblemNote error={switches.error} />
      {Object.entries(switches.data ?? {}).map(([place, power]) => (
        <SwitchSum key={place} place={names.get(place) ?? place} power={power} />
      ))}
      {Object.keys(switches.data ?? {}).length === 0 && switches.isSuccess && (
        <Text fontSize="13px" color="fg.muted">
          No device is fed from a switch: set "fed from" in the table of devices.
        </Text>
      )}
      <Care
        lines={[
          "Mains and direct-current supplies: an electrician decides on fusing, earthing and conductor rating; local codes and licensed people decide.",
        ]}
      />
    </Box>
  );
}

/** What one switch reserves, gives and is asked for, device by device. */
function SwitchSum({ place, power }: { place: string; power: SwitchPower }) {
  const held =
    power.budget_w == null
      ? ""
      : power.kept === false
        ? `, more than its ${power.budget_w} W`
        : power.kept
          ? `, inside its ${power.budget_w} W`
          : `, of ${power.budget_w} W; a class is not said`;
  return (
    <Box mt={2}>
      <Text fontWeight={600} fontSize="13px">
        Switch at {place}: reserves {power.reserved_w.toFixed(0)} W by class{held}; draws{" "}
        {power.typical_w.toFixed(0)} W usually, {power.peak_w.toFixed(0)} W at the peak
      </Text>
      <PlainTable
        label={`Devices on the switch at ${place}`}
        head={["device", "at", "count", "class", "by", "reserved each", "port gives", "W at the device", "works"]}
        figures={[2, 5, 6, 7]}
        rows={power.devices.map((row) => ({
          key: row.device + row.place,
          strong: row.works !== true,
          cells: [
            row.device,
            row.place,
            row.count,
            row.power_class || "none",
            row.asked_by,
            `${row.reserved_w.toFixed(1)} W`,
            `${row.port_w.toFixed(1)} W`,
            `${row.peak_w.toFixed(1)} W`,
            row.works ? "yes" : row.why,
          ],
        }))}
      />
      {[...new Set(power.devices.map((row) => row.caution))].filter(Boolean).map((words) => (
        <Text key={words} mt={1} fontSize="13px" borderLeftWidth="3px" borderColor="fg" pl={2}>
          {words}
        </Text>
      ))}
      <Text fontSize="12px" color="fg.muted">
        A switch reserves by class, whatever a device draws. {power.sources.map(sourceText).join("; ")}
      </Text>
    </Box>
  );
}
