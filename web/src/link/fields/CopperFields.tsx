import { asTyped } from "../../shared/doubt";
import type { Catalog, Element } from "../../shared/api";
import { rateText } from "../../shared/format";
import { ChoiceField } from "./ChoiceField";
import { LengthField } from "./LengthField";
import { choicesOf, temperatures } from "../../shared/kinds";
import type { SetValues } from "./values";
import { RatesField } from "./RatesField";
import { SpacesField } from "./SpacesField";
import { TypedField } from "./TypedField";

type Copper = Extract<Element, { kind: "twisted" | "jack" | "assembly" }>;

/** The rates of the assemblies that exist, of one leg. */
const legRates = (catalog?: Catalog) =>
  [...new Set(catalog?.copper.assembly.map((row) => row.rate_mbps))].toSorted((a, b) => a - b);

/** The fields of a piece without glass. */
export function CopperFields({ piece, catalog, set }: { piece: Copper; catalog?: Catalog; set: SetValues }) {
  if (piece.kind === "jack")
    return (
      <>
        <ChoiceField
          label="form"
          value={piece.form}
          options={choicesOf(catalog, "jack", "form")}
          onChange={(form) => set({ form })}
        />
        <RatesField label="lists" value={piece.rates_mbps} onChange={(rates_mbps) => set({ rates_mbps })} />
        <LengthField label="reach" field="reach_m" value={piece.reach_m} set={set} />
        <TypedField
          label="draws, W"
          value={piece.power_w == null ? "" : String(piece.power_w)}
          placeholder="as usual"
          onCommit={(text) => set({ power_w: asTyped(text) })}
        />
        <ChoiceField
          label="temperature"
          value={piece.temperature_class}
          options={temperatures(catalog)}
          onChange={(temperature_class) => set({ temperature_class })}
        />
        <TypedField
          label="coding"
          value={piece.coding}
          placeholder="make A"
          onCommit={(coding) => set({ coding })}
        />
      </>
    );
  if (piece.kind === "twisted")
    return (
      <>
        <LengthField value={piece.length_m} set={set} />
        <ChoiceField
          label="category"
          value={piece.category}
          options={choicesOf(catalog, "twisted", "category")}
          onChange={(category) => set({ category })}
        />
        <ChoiceField
          label="lies"
          value={piece.fixed ? "fixed" : "cord"}
          options={[
            ["cord", "a cord"],
            ["fixed", "fixed, between outlets"],
          ]}
          onChange={(kind) => set({ fixed: kind === "fixed" })}
        />
        <ChoiceField
          label="jacket"
          value={piece.jacket}
          options={choicesOf(catalog, "twisted", "jacket")}
          onChange={(jacket) => set({ jacket })}
        />
        <SpacesField value={piece.spaces} onChange={(spaces) => set({ spaces })} />
      </>
    );
  const forms = catalog?.forms.map((form) => form.name) ?? [piece.left_form, piece.right_form];
  return (
    <>
      <LengthField value={piece.length_m} set={set} />
      <ChoiceField
        label="made"
        value={piece.made}
        options={choicesOf(catalog, "assembly", "made")}
        onChange={(made) => set({ made })}
      />
      <ChoiceField
        label="rate of a leg"
        value={String(piece.rate_mbps)}
        options={legRates(catalog).map((rate) => [String(rate), rateText(rate)] as const)}
        onChange={(rate) => set({ rate_mbps: Number(rate) })}
      />
      <ChoiceField
        label="legs"
        value={String(piece.legs)}
        options={choicesOf(catalog, "assembly", "legs")}
        onChange={(legs) => set({ legs: Number(legs) })}
      />
      <ChoiceField
        label="left plug"
        value={piece.left_form}
        options={forms}
        onChange={(left_form) => set({ left_form })}
      />
      <ChoiceField
        label="right plug"
        value={piece.right_form}
        options={forms}
        onChange={(right_form) => set({ right_form })}
      />
      <LengthField label="guaranteed" field="reach_m" value={piece.reach_m} set={set} />
      <TypedField
        label="coded, left"
        value={piece.left_coding}
        placeholder="make A"
        onCommit={(left_coding) => set({ left_coding })}
      />
      <TypedField
        label="coded, right"
        value={piece.right_coding}
        placeholder="make B"
        onCommit={(right_coding) => set({ right_coding })}
      />
      <ChoiceField
        label="temperature"
        value={piece.temperature_class}
        options={temperatures(catalog)}
        onChange={(temperature_class) => set({ temperature_class })}
      />
      <SpacesField value={piece.spaces} onChange={(spaces) => set({ spaces })} />
    </>
  );
}
