import type { Catalog, Element } from "../../shared/api";
import { choicesOf } from "../../shared/kinds";
import { ChoiceField } from "./ChoiceField";
import { CandidatesField } from "./CandidatesField";
import { Crossed } from "./Crossed";
import { TypedField } from "./TypedField";
import type { SetValues } from "./values";
import { LengthField } from "./LengthField";
import { PlugField } from "./PlugField";
import { SpacesField } from "./SpacesField";

type Glass = Extract<Element, { kind: "cord" | "run" | "pigtail" }>;

/** Length as people type it, grade or candidates, plugs at both ends, polarity. */
export function GlassFields({ piece, catalog, set }: { piece: Glass; catalog?: Catalog; set: SetValues }) {
  return (
    <>
      <LengthField value={piece.length_m} set={set} />
      <CandidatesField value={piece.fiber ?? []} catalog={catalog} onChange={(fiber) => set({ fiber })} />
      <PlugField
        label="left end"
        value={piece.left}
        bareAllowed={piece.kind !== "cord"}
        onChange={(left) => set({ left })}
      />
      <PlugField
        label="right end"
        value={piece.right}
        bareAllowed={piece.kind !== "cord"}
        onChange={(right) => set({ right })}
      />
      <ChoiceField
        label="strands"
        value={String(piece.strands ?? 2)}
        options={[
          ["2", "two strands, duplex"],
          ["1", "one strand, simplex"],
        ]}
        onChange={(text) => set({ strands: Number(text) })}
      />
      {piece.kind === "cord" && (
        <ChoiceField
          label="launch"
          value={piece.offset_launch ?? ""}
          options={[
            ["", "plain cord"],
            ["left", "mode-conditioning, leg left"],
            ["right", "mode-conditioning, leg right"],
          ]}
          onChange={(leg) => set({ offset_launch: leg || null })}
        />
      )}
      {piece.kind === "cord" && piece.strands !== 1 && (
        <ChoiceField
          label="clip"
          value={piece.clip ?? "flips"}
          options={[
            ["flips", "can be opened and turned"],
            ["fixed", "does not open"],
            ["single plugs", "none: two single plugs"],
          ]}
          onChange={(clip) => set({ clip })}
        />
      )}
      {piece.kind === "cord" && piece.fiber.length > 1 && (
        <ChoiceField
          label="bought"
          value={piece.matches_run ? "match" : "own"}
          options={[
            ["own", "it is one of these"],
            ["match", "to match the run, once that is read"],
          ]}
          onChange={(word) => set({ matches_run: word === "match" })}
        />
      )}
      {piece.kind === "run" && (
        <>
          <TypedField
            label="splices on its way"
            value={piece.splices == null ? "" : String(piece.splices)}
            placeholder="not known"
            onCommit={(text) => set({ splices: text.trim() === "" ? null : text })}
          />
          <ChoiceField
            label="each may lose"
            value={piece.splice_class ?? "splice"}
            options={[
              ["splice", "the standard maximum"],
              ["splice, low-loss", "less, by contract"],
            ]}
            onChange={(splice_class) => set({ splice_class })}
          />
        </>
      )}
      {piece.kind === "run" && (
        <ChoiceField
          label="built"
          value={piece.construction ?? ""}
          options={[
            ["", "construction not known"],
            ...(catalog?.constructions.map((c) => [c.name, `${c.name}${c.metal ? ", metal" : ""}`] as const) ?? []),
          ]}
          onChange={(construction) => set({ construction })}
        />
      )}
      {piece.kind !== "pigtail" && (
        <ChoiceField
          label="jacket"
          value={piece.jacket}
          options={choicesOf(catalog, piece.kind, "jacket")}
          onChange={(jacket) => set({ jacket })}
        />
      )}
      {piece.kind !== "pigtail" && <SpacesField value={piece.spaces} onChange={(spaces) => set({ spaces })} />}
      {piece.kind !== "pigtail" && piece.strands !== 1 && <Crossed value={piece.crossed ?? false} set={set} />}
    </>
  );
}
