import { Text } from "@chakra-ui/react";

import type { Element, LinkDetail } from "../../shared/api";
import { ProblemNote } from "../../shared/ProblemNote";
import { useLay, usePlant, useProject } from "../../shared/queries";
import { ChoiceField } from "./ChoiceField";

/** The cable of the plant that a run rides on; its length and glass then follow the plant. */
export function LayField({ detail, run }: { detail: LinkDetail; run: Extract<Element, { kind: "run" }> }) {
  const plant = usePlant(useProject().data).data;
  const lay = useLay(detail);
  const cables = plant?.plant.cables ?? [];
  if (cables.length === 0) return null;
  const taps = run.cable
    ? (plant?.plant.taps ?? []).filter((tap) => tap.cable === run.cable && (tap.strands ?? []).length > 0)
    : [];
  const free = new Map(plant?.cables.map((cable) => [cable.id, cable.use.free]));
  return (
    <>
      <ChoiceField
        label="cable"
        value={run.cable ?? ""}
        options={[
          ["", "none of the plant"],
          ...cables.map((cable) => [cable.id, `${cable.name}, ${free.get(cable.id) ?? 0} free`] as const),
        ]}
        onChange={(cable) => lay.mutate({ element: run.id ?? "", cable })}
      />
      {taps.length > 0 && (
        <ChoiceField
          label="leaves it at"
          value={taps.find((tap) => (tap.strands ?? []).includes((run.strand_numbers ?? [])[0] ?? 0))?.id ?? ""}
          options={[["", "its far end"], ...taps.map((tap) => [tap.id, tap.name] as const)]}
          onChange={(tap) => lay.mutate({ element: run.id ?? "", cable: run.cable ?? "", tap })}
        />
      )}
      {run.cable && (
        <Text fontSize="12.5px" color="fg.muted">
          On strand{(run.strand_numbers ?? []).length > 1 ? "s" : ""} {(run.strand_numbers ?? []).join(" and ")}.
          Length and glass follow the cable under Site; setting them here takes the run off it.
        </Text>
      )}
      <ProblemNote error={lay.error} />
    </>
  );
}
