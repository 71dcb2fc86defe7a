import { Button, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Catalog, Element, LinkDetail } from "../../shared/api";
import { ProblemNote } from "../../shared/ProblemNote";
import { specOf } from "../../shared/kinds";
import { useLay, useShare } from "../queries";
import { usePlant, useProject } from "../../shared/queries";
import { ChoiceField } from "./ChoiceField";
import { TypedField } from "./TypedField";

interface Props {
  detail: LinkDetail;
  piece: Element;
  catalog?: Catalog;
}

/** The shared part or frame of the plan that a piece stands on, and its position there; or to share it. */
export function SharedField({ detail, piece, catalog }: Props) {
  const plant = usePlant(useProject().data).data;
  const lay = useLay(detail);
  const element = piece.id ?? "";
  const joins = specOf(catalog, piece.kind)?.joins ?? false;
  const offered = plant?.shared.filter((use) => (use.kind === "" ? joins : use.kind === piece.kind)) ?? [];
  const here = offered.find((use) => use.id === piece.part);
  const [own] = piece.positions ?? [];
  return (
    <>
      {offered.length > 0 && (
        <ChoiceField
          label="stands on"
          value={piece.part ?? ""}
          options={[
            ["", "nothing shared"],
            ...offered.map((use) => [use.id, `${use.name}, ${use.free.length} free`] as const),
          ]}
          onChange={(part) => lay.mutate({ element, part })}
        />
      )}
      {here && own && (
        <ChoiceField
          label={here.kind === "" ? "hole" : "position"}
          value={String(own)}
          options={[own, ...here.free].toSorted((a, b) => a - b).map(String)}
          onChange={(position) => lay.mutate({ element, part: here.id, positions: [Number(position)] })}
        />
      )}
      {here && (
        <Text fontSize="12.5px" color="fg.muted">
          What it is follows {here.name} under Layout, for every link on it; setting it here takes it off.
        </Text>
      )}
      <ProblemNote error={lay.error} />
      {!piece.part && <ShareForm detail={detail} piece={piece} />}
    </>
  );
}

/** Name a piece as a part that other links stand on too, and say how many can. */
function ShareForm({ detail, piece }: { detail: LinkDetail; piece: Element }) {
  const share = useShare(detail);
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const [count, setCount] = useState("4");
  const [lacks, setLacks] = useState(false);
  if (!open)
    return (
      <Button mt={2} size="xs" variant="outline" onClick={() => setOpen(true)}>
        Share with other links
      </Button>
    );
  const positions = Number.parseInt(count, 10);
  const put = () => {
    const sound = name.trim() !== "" && positions >= 1;
    setLacks(!sound);
    if (sound) share.mutate({ element: piece.id ?? "", name: name.trim(), count: positions });
  };
  return (
    <>
      <TypedField label="shared name" value={name} placeholder="split port, row A" onCommit={setName} />
      <TypedField label="positions" value={count} onCommit={setCount} />
      <Button mt={1} size="xs" variant="outline" loading={share.isPending} onClick={put}>
        Share it
      </Button>
      {lacks && (
        <Text role="alert" fontSize="12.5px">
          Give it a name, such as split port, row A, and a number of positions from 1 on.
        </Text>
      )}
      <ProblemNote error={share.error} />
    </>
  );
}
