import { asTyped } from "../../shared/doubt";
import type { Catalog, Element } from "../../shared/api";
import { Toggle } from "../../shared/Toggle";
import { type FieldSpec, specOf } from "../../shared/kinds";
import { toggled } from "../../shared/spaces";
import { ChoiceField } from "./ChoiceField";
import { LengthField } from "./LengthField";
import { Row } from "./Row";
import { TypedField } from "./TypedField";
import type { SetValues } from "./values";

/** The fields of a kind that has no form of its own, as the core describes them. */
export function PlainFields({ piece, catalog, set }: { piece: Element; catalog?: Catalog; set: SetValues }) {
  const fields = specOf(catalog, piece.kind)?.fields.filter((field) => field.name !== "label") ?? [];
  return fields.map((field) => (
    <PlainField
      key={field.name}
      field={field}
      value={(piece as unknown as Record<string, unknown>)[field.name]}
      options={options(field, catalog)}
      set={set}
    />
  ));
}

/** What may be chosen: fixed values, or the names on a shelf of the catalog. */
function options(field: FieldSpec, catalog?: Catalog): string[] {
  if (field.choices?.length) return field.choices.map((choice) => String(choice.value));
  const shelf = (catalog as unknown as Record<string, { name: string }[] | undefined>)?.[field.shelf ?? ""];
  return shelf?.map((one) => one.name) ?? [];
}

/** Whether nothing may be chosen: what nobody says is nothing too. */
const canBeEmpty = (field: FieldSpec) => field.default === null || field.default === "";

interface Props {
  field: FieldSpec;
  value: unknown;
  options: string[];
  set: SetValues;
}

function PlainField({ field, value, options, set }: Props) {
  const label = field.word.toLowerCase() + (field.unit && field.editor !== "length" ? `, ${field.unit}` : "");
  const change = (next: unknown) => set({ [field.name]: next });
  switch (field.editor) {
    case "length":
      return <LengthField label={label} field={field.name} value={value as number | null} set={set} />;
    case "yes or no":
      return (
        <ChoiceField
          label={label}
          value={value ? "yes" : "no"}
          options={["no", "yes"]}
          onChange={(word) => change(word === "yes")}
        />
      );
    case "choice":
      return (
        <ChoiceField
          label={label}
          value={String(value ?? "")}
          options={canBeEmpty(field) ? [["", "not known"], ...options.map((one) => [one, one] as const)] : options}
          onChange={(next) => change(next === "" ? field.default : next)}
        />
      );
    case "choices":
      return <Several label={label} value={(value as string[]) ?? []} options={options} onChange={change} />;
    default:
      return (
        <TypedField
          label={label}
          value={value == null ? "" : String(value)}
          onCommit={(text) => change(field.editor === "number" ? asTyped(text) : text)}
        />
      );
  }
}

function Several({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string[];
  options: string[];
  onChange: (chosen: string[]) => void;
}) {
  return (
    <Row label={label}>
      {options.map((one) => (
        <Toggle
          key={one}
          words={one}
          on={value.includes(one)}
          onChange={() => onChange(toggled(options, value, one))}
        />
      ))}
    </Row>
  );
}
