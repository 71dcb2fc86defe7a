import { Heading, Text } from "@chakra-ui/react";

import { Bars } from "../draw/Bars";
import { lengthScale } from "../draw/scale";
import { PlainTable } from "../shared/PlainTable";
import { lengthText, rateText, sourceText } from "../shared/format";
import { useSettings } from "../shared/settings";
import type { ReferencePart } from "./part";

/** How far links without glass go: twisted pair by category, plug-in modules, direct-attach assemblies; and habits. */
export function CopperTable({ catalog, fits }: ReferencePart) {
  const { unit } = useSettings();
  const { twisted, jack, assembly, habit } = catalog.copper;
  const far = (row: { reach_m: number; sure_m?: number | null }) =>
    lengthText(row.reach_m, unit) + (row.sure_m ? `, ${lengthText(row.sure_m, unit)} without condition` : "");
  const bars = [
    ...twisted.map((row) => ({ ...row, name: `${row.name}, ${row.category}` })),
    ...jack.map((row) => ({ ...row, name: `plug-in module, ${row.form}` })),
    ...assembly.map((row) => ({ ...row })),
  ].filter((row) => fits(row.name, rateText(row.rate_mbps)));
  const scale = lengthScale("even", [0, Math.max(100, ...bars.map((row) => row.reach_m))], [0, 1], unit, 8);
  const rows = [
    ...twisted.map((row) => [
      row.name,
      rateText(row.rate_mbps),
      `${row.category} and better`,
      far(row),
      row.note,
      sourceText(row.source),
    ]),
    ...jack.map((row) => [
      `plug-in module, ${row.form}`,
      rateText(row.rate_mbps),
      "twisted pair",
      far(row),
      `draws ${row.power_w} W`,
      sourceText(row.source),
    ]),
    ...assembly.map((row) => [
      row.name,
      rateText(row.rate_mbps),
      `${row.made}, ${[...new Set([row.form, row.leg_form || row.form])].join(" to ")}`,
      far(row),
      row.note,
      sourceText(row.source),
    ]),
  ].filter((cells) => fits(...cells));
  return (
    <>
      <Text mt={2} fontSize="13px" maxW="90ch">
        Twisted pair counts from port to port, cords and all. Copper between buildings carries lightning and
        differences of ground potential: glass does not. Local codes and licensed people decide.
      </Text>
      <Bars
        label="Reach without glass"
        testid="copper-bars"
        ticks={scale.ticks.map(({ m, words }) => ({ at: scale.at(m), words }))}
        rows={bars.map((row, i) => ({
          key: `${i}`,
          name: `${row.name}, ${rateText(row.rate_mbps)}`,
          words: `${row.name} at ${rateText(row.rate_mbps)}: ${far(row)}`,
          parts: [{ from: 0, to: scale.at(row.reach_m), look: "full" as const }],
          end: lengthText(row.reach_m, unit),
        }))}
      />
      <PlainTable
        label="Copper"
        head={["application", "speed", "over", "reach", "note", "from"]}
        rows={rows.map((cells) => ({ key: cells.join("|"), cells }))}
      />
      <Heading as="h2" size="sm" fontWeight={600} mt={4}>
        What habit says beyond the clause
      </Heading>
      {habit.map((one) => (
        <Text key={one.words} fontSize="13px">
          {rateText(one.rate_mbps)} over {one.category}: {one.words}
        </Text>
      ))}
    </>
  );
}
