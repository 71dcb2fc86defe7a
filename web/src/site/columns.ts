import { numbersIn } from "../shared/doubt";
import {
  CABLE_ENDS,
  GROUPINGS,
  HEAD_ENDS,
  JACKETS,
  LENGTH_BY,
  PLACE_KINDS,
  PLACE_POWER,
  POWER_CLASSES,
  STATES,
  SURROUNDINGS,
  WAY_KINDS,
} from "../shared/generated/lists";
import type { Catalog, Plant } from "../shared/api";
import { kindName } from "../shared/kinds";
import { type Frame, heldWords } from "./held";
import type { Row, Shelf } from "./rows";

export interface Column {
  key: string;
  label: string;
  width: number;
  choices?: readonly (string | readonly [string, string])[];
  /** What is only shown: it is changed elsewhere. */
  said?: (row: Row) => string;
  flag?: boolean;
  list?: boolean;
  /** Rows that the list names, by id and name: it is shown and typed by their names. */
  rows?: readonly (readonly [string, string])[];
  /** The column whose choice this one must differ from. */
  apart?: string;
  number?: boolean;
  length?: boolean;
  /** An empty length is not known, not zero. */
  optional?: boolean;
}

/** Where a way is, said where its name does not. */
const WHERE: Partial<Record<(typeof WAY_KINDS)[number], string>> = { conduit: "indoors", duct: "outdoors" };

/** The columns of each table of the plant. */
export function columns(shelf: Shelf, plant: Plant, catalog: Catalog | undefined): Column[] {
  const places = (plant.places ?? []).map((place) => [place.id, place.name] as const);
  const name = { key: "name", label: "name", width: 170 };
  const state = { key: "state", label: "state", width: 92, choices: STATES };
  switch (shelf) {
    case "places":
      return [
        name,
        {
          key: "kind",
          label: "kind",
          width: 96,
          choices: PLACE_KINDS,
        },
        { key: "within", label: "within", width: 140, choices: [["", "nothing"], ...places] },
        {
          key: "surroundings",
          label: "surroundings",
          width: 110,
          choices: SURROUNDINGS,
        },
        { key: "power", label: "power", width: 92, choices: PLACE_POWER },
        { key: "key_holder", label: "key", width: 140 },
        { key: "coldest_c", label: "coldest °C", width: 72, number: true },
        { key: "hottest_c", label: "hottest °C", width: 72, number: true },
        { key: "east_m", label: "east m", width: 72, number: true },
        { key: "north_m", label: "north m", width: 72, number: true },
        { key: "latitude", label: "latitude °", width: 84, number: true },
        { key: "longitude", label: "longitude °", width: 84, number: true },
        { key: "notes", label: "notes", width: 130 },
      ];
    case "ways":
      return [
        name,
        {
          key: "kind",
          label: "kind",
          width: 84,
          choices: WAY_KINDS.map((kind) => [kind, WHERE[kind] ? `${kind}, ${WHERE[kind]}` : kind] as const),
        },
        { key: "start", label: "from", width: 130, choices: places, apart: "end" },
        { key: "end", label: "to", width: 130, choices: places, apart: "start" },
        { key: "length_m", label: "length", width: 84, length: true },
        { key: "length_by", label: "known by", width: 84, choices: LENGTH_BY },
        { key: "bore_mm", label: "bore mm", width: 62, number: true },
        { key: "rise_m", label: "rise m", width: 56, number: true },
        { key: "material", label: "material", width: 90 },
        { key: "bends_deg", label: "bends °, 0: none", width: 104, list: true, number: true },
        { key: "bend_radius_m", label: "radius m", width: 60, number: true },
        { key: "pull_points_m", label: "pull points m", width: 90, list: true, number: true },
        { key: "depth_m", label: "depth m", width: 56, number: true },
        { key: "inside", label: "what else is in it", width: 130 },
        { key: "power_conductors", label: "mains", width: 50, flag: true },
        { key: "wet", label: "wet", width: 40, flag: true },
        state,
        { key: "owner", label: "owner", width: 90 },
        { key: "hazard", label: "hazard", width: 110 },
      ];
    case "cables":
      return [name, ...cableColumns(plant, catalog), state];
    case "taps":
      return [
        name,
        {
          key: "cable",
          label: "cable",
          width: 150,
          choices: (plant.cables ?? []).map((cable) => [cable.id, cable.name] as const),
        },
        { key: "place", label: "at", width: 150, choices: places },
        { key: "strands", label: "strands that leave", width: 140, list: true, number: true },
        { key: "joint", label: "two lengths joined", width: 90, flag: true },
        state,
      ];
    case "devices":
      return [
        name,
        { key: "place", label: "at", width: 150, choices: places },
        { key: "count", label: "count", width: 56, number: true },
        { key: "rate_mbps", label: "Mb/s each", width: 80, number: true },
        {
          key: "fed_from",
          label: "fed from the switch at",
          width: 150,
          choices: [["", "power of its own"], ...places],
        },
        {
          key: "power_class",
          label: "class at the switch",
          width: 118,
          choices: [["", "by the watts"], ...POWER_CLASSES],
        },
        { key: "typical_w", label: "W at the device, usually", width: 90, number: true },
        { key: "peak_w", label: "W at the device, peak", width: 90, number: true },
        { key: "extended_power", label: "extended power", width: 70, flag: true },
        { key: "injector", label: "injector", width: 84, choices: ["none", "planned", "existing"] },
      ];
    case "orders":
      return [
        { ...name, width: 320 },
        { key: "count", label: "count", width: 60, number: true },
        { key: "why", label: "why", width: 260 },
      ];
    case "parts":
      return [
        { ...name, width: 200 },
        { key: "place", label: "at", width: 150, choices: [["", "not said"], ...places] },
        {
          key: "holds",
          label: "what it is",
          width: 170,
          said: (row) => kindName((row.holds as { kind: string }).kind),
        },
        { key: "count", label: "positions", width: 70, number: true },
      ];
    case "frames":
      return [
        { ...name, width: 200 },
        { key: "place", label: "at", width: 150, choices: [["", "not said"], ...places] },
        { key: "holes", label: "holes", width: 60, number: true },
        { key: "held", label: "holds", width: 170, said: (row) => heldWords((row as unknown as Frame).held ?? []) },
      ];
  }
}

/** What a cable has of its own. */
const cableColumns = (plant: Plant, catalog: Catalog | undefined): Column[] => [
  {
    key: "ways",
    label: "ways, in order",
    width: 170,
    list: true,
    rows: (plant.ways ?? []).map((way) => [way.id, way.name] as const),
  },
  { key: "fiber", label: "grade", width: 110, list: true },
  { key: "strands", label: "strands", width: 58, number: true },
  { key: "dead", label: "dead", width: 70, list: true, number: true },
  { key: "dead_why", label: "why dead", width: 120 },
  { key: "reserved", label: "growth", width: 56, number: true },
  { key: "diameter_mm", label: "mm", width: 56, number: true },
  { key: "weight_kg_per_km", label: "kg/km", width: 60, number: true },
  { key: "rated_tension_n", label: "rated N", width: 66, number: true },
  { key: "rated_tension_rest_n", label: "at rest N", width: 66, number: true },
  { key: "bend_radius_loaded_mm", label: "radius mm, pull", width: 70, number: true },
  { key: "bend_radius_rest_mm", label: "radius mm, rest", width: 70, number: true },
  { key: "slack_m", label: "slack", width: 70, length: true },
  {
    key: "construction",
    label: "built",
    width: 140,
    choices: [["", "not known"], ...(catalog?.constructions.map((c) => [c.name, c.name] as const) ?? [])],
  },
  { key: "jacket", label: "jacket", width: 110, choices: JACKETS },
  { key: "near_end", label: "near end", width: 100, choices: CABLE_ENDS },
  { key: "far_end", label: "far end", width: 100, choices: CABLE_ENDS },
  { key: "coldest_c", label: "coldest °C", width: 72, number: true },
  { key: "hottest_c", label: "hottest °C", width: 72, number: true },
  { key: "metal", label: "metal", width: 46, flag: true },
  { key: "head_mm", label: "head mm", width: 62, number: true },
  { key: "head_length_mm", label: "head long mm", width: 70, number: true },
  { key: "head_at", label: "head at", width: 80, choices: HEAD_ENDS },
  { key: "sold_length_m", label: "bought at", width: 72, length: true, optional: true },
  {
    key: "color_code",
    label: "colors by",
    width: 130,
    choices: (catalog?.marks.strands.codes ?? []).map((code) => code.name),
  },
  { key: "per_tube", label: "per tube", width: 58, number: true },
  { key: "grouped_in", label: "grouped in", width: 80, choices: GROUPINGS },
];

/** A cell as it is edited; rows that it names are shown by their names. */
export function cellText(value: unknown, unit: string, column?: Column): string {
  if (Array.isArray(value)) {
    const name = new Map(column?.rows);
    return value.map((one) => name.get(String(one)) ?? String(one)).join(column?.rows ? "; " : ", ");
  }
  if (value === null || value === undefined) return "";
  return unit ? `${String(value)} ${unit}` : String(value);
}

/** The rows that a text names, by their ids: by name or id, whatever its case. What is no row stays as it was typed. */
function named(text: string, rows: readonly (readonly [string, string])[]): string[] {
  const plain = (word: string) => word.trim().toLowerCase();
  const idOf = new Map([
    ...rows.map(([id, name]) => [plain(name), id] as const),
    ...rows.map(([id]) => [plain(id), id] as const),
  ]);
  const parts = (mark: RegExp) => text.split(mark).filter((part) => part.trim() !== "");
  const whole = parts(/;/);
  const found = whole.every((part) => idOf.has(plain(part))) ? whole : parts(/[,;]/); // a name may have a comma in it
  return found.map((part) => idOf.get(plain(part)) ?? part.trim());
}

/** What was typed as it is stored; text that is no number goes to the api, which says why not. */
export function cellValue(text: string, column: Column): unknown {
  if (column.rows) return named(text, column.rows);
  if (column.list && column.number) return numbersIn(text);
  if (column.list)
    return text
      .split(/[,;]/)
      .map((part) => part.trim())
      .filter((part) => part !== "");
  if (column.length) return text.trim() === "" ? (column.optional ? null : 0) : text.trim();
  if (column.number) return text.trim() === "" ? null : text.trim();
  return text;
}
