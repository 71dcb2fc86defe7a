import type { Catalog, Datasheet } from "../shared/api";
import { asTyped } from "../shared/doubt";

export type Application = Catalog["applications"][number];
export type Draft = Record<(typeof TEXTS)[number] | "like" | "connector" | "polish", string>;

/** What is typed of a datasheet, in the order in which a sheet has it. */
export const TEXTS = [
  "name",
  "source",
  "forms",
  "wavelengths_nm",
  "launch_min_dbm",
  "launch_max_dbm",
  "sensitivity_dbm",
  "overload_dbm",
  "damage_dbm",
  "penalty_db",
  "dispersion_ps_per_nm",
  "reach",
  "works_with",
  "partner",
] as const;

const listed = (text: string) =>
  text
    .split(/[,;]/)
    .map((part) => part.trim())
    .filter(Boolean);

/** A draft that starts from a class: what a sheet shares with it is there, every figure is left to the sheet. */
export function draftFrom(like: Application): Draft {
  const blank = Object.fromEntries(TEXTS.map((key) => [key, ""])) as Draft;
  return {
    ...blank,
    like: like.name,
    forms: like.forms[0] ?? "",
    wavelengths_nm: like.wavelengths_nm.join(", "),
    connector: like.connector,
    polish: like.polish,
    partner: "",
  };
}

/** The record that a draft makes. A reach holds for every grade of the class; numbers that are none go to the api, which says so. */
export function datasheetOf(draft: Draft, like: Application): Datasheet {
  const reach = draft.reach.trim();
  return {
    name: draft.name.trim(),
    like: like.name,
    source: draft.source.trim(),
    rate_mbps: like.rate_mbps,
    wavelengths_nm: listed(draft.wavelengths_nm),
    families: [like.family],
    fibers: like.fibers,
    partner: draft.partner.trim(),
    works_with: listed(draft.works_with),
    connector: draft.connector,
    polish: draft.polish,
    forms: listed(draft.forms),
    launch_min_dbm: asTyped(draft.launch_min_dbm),
    launch_max_dbm: asTyped(draft.launch_max_dbm),
    sensitivity_dbm: asTyped(draft.sensitivity_dbm),
    overload_dbm: asTyped(draft.overload_dbm),
    damage_dbm: asTyped(draft.damage_dbm),
    penalty_db: asTyped(draft.penalty_db),
    dispersion_ps_per_nm: asTyped(draft.dispersion_ps_per_nm),
    reaches: reach ? like.reaches.map((row) => ({ grade: row.fiber, reach_m: reach })) : [],
  } as unknown as Datasheet;
}

/** What the draft still needs before it can be taken. */
export function missing(draft: Draft): string[] {
  const needed: [keyof Draft, string][] = [
    ["name", "a name"],
    ["source", "the datasheet's title and date"],
    ["forms", "its form"],
    ["wavelengths_nm", "its wavelength"],
  ];
  return needed.filter(([key]) => draft[key].trim() === "").map(([, words]) => words);
}
