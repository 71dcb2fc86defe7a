import { Box, Text } from "@chakra-ui/react";

import { BarKey, Bars } from "../draw/Bars";
import { evenScale, roundUp } from "../draw/scale";
import type { SwitchPower } from "../shared/api";
import { PlainTable } from "../shared/PlainTable";
import { sourceText } from "../shared/format";

/** What one switch reserves, gives and is asked for: its total as a bar, then device by device. */
export function SwitchSum({ place, power }: { place: string; power: SwitchPower }) {
  const held =
    power.budget_w == null
      ? ""
      : power.kept === false
        ? `, more than its ${power.budget_w} W`
        : power.kept
          ? `, inside its ${power.budget_w} W`
          : `, of ${power.budget_w} W; a class is not said`;
  const top = roundUp(Math.max(power.reserved_w, power.peak_w, power.budget_w ?? 0, 1));
  const scale = evenScale(0, top, 0, 1);
  const parts = (usual: number, peak: number, reserved: number) => [
    { from: 0, to: scale.at(reserved), look: "open" as const },
    { from: 0, to: scale.at(peak), look: "soft" as const },
    { from: 0, to: scale.at(usual), look: "full" as const },
  ];
  return (
    <Box mt={3} data-testid="switch-sum">
      <Text fontWeight={600} fontSize="13px">
        Switch at {place}: reserves {power.reserved_w.toFixed(0)} W by class{held}; draws{" "}
        {power.typical_w.toFixed(0)} W usually, {power.peak_w.toFixed(0)} W at the peak
      </Text>
      <Box maxW="820px">
        <Bars
          label={`Power of the switch at ${place}`}
          ticks={scale.ticks.map((w) => ({ at: scale.at(w), words: `${w} W` }))}
          lines={power.budget_w == null ? [] : [{ at: scale.at(power.budget_w), words: "its budget" }]}
          rows={[
            {
              key: "all",
              name: "the whole switch",
              strong: true,
              words: `The whole switch reserves ${power.reserved_w.toFixed(0)} W${held}`,
              parts: parts(power.typical_w, power.peak_w, power.reserved_w),
              end: `${power.reserved_w.toFixed(0)} W${power.kept === false ? " ×" : ""}`,
            },
            ...power.devices.map((row) => ({
              key: row.device + row.place,
              name: `${row.count} × ${row.device}${row.power_class ? `, ${row.power_class}` : ""}`,
              words: `${row.count} ${row.device} at ${row.place}: ${row.count * row.reserved_w} W reserved, ${row.works ? "works" : row.why}`,
              parts: parts(0, row.count * row.port_w, row.count * row.reserved_w),
              end: `${(row.count * row.reserved_w).toFixed(0)} W${row.works === true ? "" : row.works === false ? " ×" : " ?"}`,
            })),
          ]}
        />
        <BarKey entries={KEY} />
      </Box>
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

const KEY = [
  ["full", "drawn usually"],
  ["soft", "drawn at the peak"],
  ["open", "reserved by class"],
] as const;
