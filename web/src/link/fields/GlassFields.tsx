import { type Catalog, type Element, call } from "../../shared/api";
import { lengthInput, withUnit } from "../../shared/format";
import { useSettings } from "../../shared/settings";
import { ChoiceField } from "./ChoiceField";
import { CandidatesField } from "./CandidatesField";
import { Crossed, type SetValues } from "./PieceFields";
import { PlugField } from "./PlugField";
import { TypedField } from "./TypedField";

type Glass = Extract<Element, { kind: "cord" | "run" | "pigtail" }>;

/** Length as people type it, grade or candidates, plugs at both ends, polarity. */
export function GlassFields({ piece, catalog, set }: { piece: Glass; catalog?: Catalog; set: SetValues }) {
  const { unit } = useSettings();
  const typed = (text: string) => withUnit(text.trim(), unit);
  return (
    <>
      <TypedField
        label="length"
        value={lengthInput(piece.length_m, unit)}
        placeholder={unit === "ft" ? "1250 ft" : "320 m"}
        check={async (text) => (text.trim() ? (await call<{ metres: string }>(`/length?text=${encodeURIComponent(typed(text))}`)).metres : "")}
        onCommit={(text) => set({ length_m: text.trim() ? typed(text) : null })}
      />
      <CandidatesField value={piece.fiber ?? []} catalog={catalog} onChange={(fiber) => set({ fiber })} />
      <PlugField label="left end" value={piece.left} bareAllowed={piece.kind !== "cord"} onChange={(left) => set({ left })} />
      <PlugField label="right end" value={piece.right} bareAllowed={piece.kind !== "cord"} onChange={(right) => set({ right })} />
      <ChoiceField
        label="strands"
        value={String(piece.strands ?? 2)}
        options={[["2", "two strands, duplex"], ["1", "one strand, simplex"]]}
        onChange={(text) => set({ strands: Number(text) })}
      />
      {piece.kind === "cord" && (
        <ChoiceField
          label="launch"
          value={piece.offset_launch ?? ""}
          options={[["", "plain cord"], ["left", "mode-conditioning, leg left"], ["right", "mode-conditioning, leg right"]]}
          onChange={(leg) => set({ offset_launch: leg || null })}
        />
      )}
      {piece.kind === "run" && (
        <ChoiceField
          label="built"
          value={piece.construction ?? ""}
          options={[["", "construction not known"], ...(catalog?.constructions.map((c) => [c.name, `${c.name}${c.metal ? ", metal" : ""}`] as const) ?? [])]}
          onChange={(construction) => set({ construction })}
        />
      )}
      {piece.kind !== "pigtail" && piece.strands !== 1 && <Crossed value={piece.crossed ?? false} set={set} />}
    </>
  );
}
