import type { Catalog, Kind } from "./api";

/** What the catalog answer says of one kind of piece: its words, its fields, what a hand can do with it. */
export type KindSpec = Catalog["kinds"][number];
export type FieldSpec = KindSpec["fields"][number];

export const specOf = (catalog: Catalog | undefined, kind: string): KindSpec | undefined =>
  catalog?.kinds.find((spec) => spec.kind === kind);

/** What may be chosen for a field of a kind, as the core has it; empty until the catalog is there. */
export const choicesOf = (catalog: Catalog | undefined, kind: Kind, field: string): string[] =>
  specOf(catalog, kind)
    ?.fields.find((one) => one.name === field)
    ?.choices?.map((choice) => String(choice.value)) ?? [];

/** The temperature classes of modules, each with its range in words. */
export const temperatures = (catalog: Catalog | undefined): (readonly [string, string])[] => [
  ["unknown", "class not known"],
  ...(catalog?.temperature_classes.map(
    (one) => [one.name, `${one.name}, ${minus(one.coldest_c)} to ${minus(one.hottest_c)} °C`] as const,
  ) ?? []),
];

const minus = (degrees: number) => String(degrees).replace("-", "−");

let titles: Record<string, string> = {};

/** Keep the words of the kinds for lists and screen readers. */
export function learnTitles(kinds: readonly KindSpec[]) {
  titles = Object.fromEntries(kinds.map((spec) => [spec.kind, spec.title]));
}

/** A kind of piece as one says it. */
export const kindName = (kind: string): string => titles[kind] ?? kind;
