import { Text } from "@chakra-ui/react";

import type { Element, LinkDetail } from "../../shared/api";
import { ProblemNote } from "../../shared/ProblemNote";
import { useLay } from "../queries";
import { usePlant, useProject } from "../../shared/queries";
import { ChoiceField } from "./ChoiceField";

/** The cable of the plant that a run rides on; its length and glass then follow the plant. */
export function LayField({
  detail,
  run,
}: {
  detail: LinkDetail;
  run: Extract<Element, { kind: "run" | "trunk" }>;
}) {
  const plant = usePlant(useProject().data).data;
  const lay = useLay(detail);
  const cables = plant?.plant.cables ?? [];
  if (cables.length === 0) return null;
  const taps = run.part
    ? (plant?.plant.taps ?? []).filter((tap) => tap.cable === run.part && (tap.strands ?? []).length > 0)
    : [];
  const free = new Map(plant?.cables.map((cable) => [cable.id, cable.use.free]));
  return (
    <>
      <ChoiceField
        label="cable"
        value={run.part ?? ""}
        options={[
          ["", "none of the plant"],
          ...cables.map((cable) => [cable.id, `${cable.name}, ${free.get(cable.id) ?? 0} free`] as const),
        ]}
        onChange={(cable) => lay.mutate({ element: run.id ?? "", part: cable })}
      />
      {taps.length > 0 && (
        <ChoiceField
          label="leaves it at"
          value={taps.find((tap) => (tap.strands ?? []).includes((run.positions ?? [])[0] ?? 0))?.id ?? ""}
          options={[["", "its far end"], ...taps.map((tap) => [tap.id, tap.name] as const)]}
          onChange={(tap) => lay.mutate({ element: run.id ?? "", part: run.part ?? "", tap })}
        />
      )}
      {run.part && (
        <Text fontSize="12.5px" color="fg.muted">
          On strand{(run.positions ?? []).length > 1 ? "s" : ""} {(run.positions ?? []).join(" and ")}. Length and
          glass follow the cable under Layout; setting them here takes the run off it.
        </Text>
      )}
      <ProblemNote error={lay.error} />
    </>
  );
}
