import { asTyped } from "../../shared/doubt";
import type { Catalog, Element } from "../../shared/api";
import { rateText } from "../../shared/format";
import { ChoiceField } from "./ChoiceField";
import { CopperFields } from "./CopperFields";
import { Crossed } from "./Crossed";
import { GlassFields } from "./GlassFields";
import { PortFields } from "./PortFields";
import { TypedField } from "./TypedField";
import { choicesOf, temperatures } from "../../shared/kinds";
import { SplitFields } from "./SplitFields";
import { PanelFields } from "./PanelFields";
import { PlainFields } from "./PlainFields";
import type { SetValues } from "./values";

/** The fields of one piece, by its kind. Each is stored as it is changed. */
export function PieceFields({ piece, catalog, set }: { piece: Element; catalog?: Catalog; set: SetValues }) {
  return (
    <>
      {piece.kind !== "module" && (
        <TypedField label="label" value={piece.label ?? ""} onCommit={(label) => set({ label })} />
      )}
      <OwnFields piece={piece} catalog={catalog} set={set} />
    </>
  );
}

function OwnFields({ piece, catalog, set }: { piece: Element; catalog?: Catalog; set: SetValues }) {
  switch (piece.kind) {
    case "port":
      return <PortFields piece={piece} catalog={catalog} set={set} />;
    case "module":
      return (
        <>
          <ChoiceField
            label="application"
            value={piece.application}
            options={
              catalog?.applications.map(
                (a) => [a.name, `${a.name}, ${rateText(a.rate_mbps)}, ${a.wavelengths_nm.join("/")} nm`] as const,
              ) ?? [piece.application]
            }
            onChange={(application) => set({ application, form: "", legs: 1, leg: 0 })}
          />
          <SplitFields piece={piece} catalog={catalog} set={set} />
          <ChoiceField
            label="form"
            value={piece.form ?? ""}
            options={[
              ["", "usual form"],
              ...(catalog?.applications.find((a) => a.name === piece.application)?.forms ?? []).map(
                (f) => [f, f] as const,
              ),
            ]}
            onChange={(form) => set({ form })}
          />
          <ChoiceField
            label="lists too"
            value={piece.also?.[0] ?? ""}
            options={[
              ["", "no other application"],
              ...(catalog?.applications
                .filter((a) => a.name !== piece.application)
                .map((a) => [a.name, a.name] as const) ?? []),
            ]}
            onChange={(name) => set({ also: name ? [name] : [] })}
          />
          <ChoiceField
            label="temperature"
            value={piece.temperature_class ?? "unknown"}
            options={temperatures(catalog)}
            onChange={(temperature_class) => set({ temperature_class })}
          />
          <TypedField
            label="coding"
            value={piece.coding ?? ""}
            placeholder="make A"
            onCommit={(coding) => set({ coding })}
          />
        </>
      );
    case "panel":
      return <PanelFields piece={piece} catalog={catalog} set={set} />;
    case "splice":
      return <Crossed value={piece.crossed ?? false} set={set} />;
    case "attenuator":
      return (
        <>
          <ChoiceField
            label="kind"
            value={piece.variable ? "variable" : "fixed"}
            options={[
              ["fixed", "fixed value"],
              ["variable", "variable, set with a meter"],
            ]}
            onChange={(kind) => set({ variable: kind === "variable" })}
          />
          <TypedField
            label="value, dB"
            value={String(piece.value_db)}
            onCommit={(text) => set({ value_db: asTyped(text) })}
          />
          <ChoiceField
            label="shape"
            value={piece.shape}
            options={choicesOf(catalog, "attenuator", "shape")}
            onChange={(shape) => set({ shape })}
          />
          <ChoiceField
            label="polish"
            value={piece.polish}
            options={choicesOf(catalog, "attenuator", "polish")}
            onChange={(polish) => set({ polish })}
          />
        </>
      );
    case "outlet":
      return null;
    case "twisted":
    case "jack":
    case "assembly":
      return <CopperFields piece={piece} catalog={catalog} set={set} />;
    case "cord":
    case "run":
    case "pigtail":
      return <GlassFields piece={piece} catalog={catalog} set={set} />;
    default:
      return <PlainFields piece={piece} catalog={catalog} set={set} />;
  }
}
