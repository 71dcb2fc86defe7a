import type { Catalog, Plant } from "../shared/api";

export type Shelf = "places" | "ways" | "cables";
export type Row = Record<string, unknown> & { id: string; name: string };

export interface Column {
  key: string;
  label: string;
  width: number;
  choices?: (string | readonly [string, string])[];
  flag?: boolean;
  list?: boolean;
  number?: boolean;
  length?: boolean;
}

const STATES = ["existing", "planned", "pulled", "tested", "dead"];

/** The columns of each table of the plant. */
export function columns(shelf: Shelf, plant: Plant, catalog: Catalog | undefined): Column[] {
  const places = (plant.places ?? []).map((place) => [place.id, place.name] as const);
  const name = { key: "name", label: "name", width: 170 };
  const state = { key: "state", label: "state", width: 92, choices: STATES };
  switch (shelf) {
    case "places":
      return [
        name,
        { key: "kind", label: "kind", width: 96, choices: ["site", "building", "floor", "room", "cabinet", "pole", "pit"] },
        { key: "within", label: "within", width: 140, choices: [["", "nothing"], ...places] },
        { key: "power", label: "power", width: 92, choices: ["mains", "none", "unknown"] },
        { key: "key", label: "key", width: 140 },
        { key: "coldest_c", label: "coldest °C", width: 72, number: true },
        { key: "hottest_c", label: "hottest °C", width: 72, number: true },
      ];
    case "ways":
      return [
        name,
        { key: "kind", label: "kind", width: 84, choices: ["tray", "riser", "duct", "trench", "aerial", "wall", "rented"] },
        { key: "start", label: "from", width: 130, choices: places },
        { key: "end", label: "to", width: 130, choices: places },
        { key: "length_m", label: "length", width: 84, length: true },
        { key: "bore_mm", label: "bore mm", width: 62, number: true },
        { key: "bends_deg", label: "bends °", width: 84, list: true, number: true },
        { key: "power_conductors", label: "mains", width: 50, flag: true },
        { key: "wet", label: "wet", width: 40, flag: true },
        state,
        { key: "hazard", label: "hazard", width: 110 },
      ];
    case "cables":
      return [
        name,
        { key: "ways", label: "ways, in order", width: 170, list: true },
        { key: "fiber", label: "grade", width: 110, list: true },
        { key: "strands", label: "strands", width: 58, number: true },
        { key: "dead", label: "dead", width: 70, list: true, number: true },
        { key: "reserved", label: "growth", width: 56, number: true },
        { key: "diameter_mm", label: "mm", width: 56, number: true },
        { key: "weight_kg_per_km", label: "kg/km", width: 60, number: true },
        { key: "rated_tension_n", label: "rated N", width: 66, number: true },
        { key: "slack_m", label: "slack", width: 70, length: true },
        { key: "construction", label: "built", width: 140, choices: [["", "not known"], ...(catalog?.constructions.map((c) => [c.name, c.name] as const) ?? [])] },
        { key: "metal", label: "metal", width: 46, flag: true },
        state,
      ];
  }
}

/** A cell as it is edited. */
export function cellText(value: unknown, unit: string): string {
  if (Array.isArray(value)) return value.join(", ");
  if (value === null || value === undefined) return "";
  return unit ? `${String(value)} ${unit}` : String(value);
}

/** What was typed as it is stored; text that is no number goes to the api, which says why not. */
export function cellValue(text: string, column: Column): unknown {
  const one = (part: string) => (column.number && part !== "" && Number.isFinite(Number(part.replace(",", "."))) ? Number(part.replace(",", ".")) : part);
  if (column.list) return text.split(/[,;]/).map((part) => one(part.trim())).filter((part) => part !== "");
  if (column.length) return text.trim() === "" ? 0 : text.trim();
  if (column.number) return text.trim() === "" ? null : one(text.trim().replace("−", "-"));
  return text;
}

/** A new row with an id that is still free. */
export function newRow(shelf: Shelf, plant: Plant): Row {
  const rows = (plant[shelf] ?? []) as Row[];
  const word = { places: "place", ways: "way", cables: "cable" }[shelf];
  let number = rows.length + 1;
  while (rows.some((row) => row.id === `${word} ${number}`)) number += 1;
  const id = `${word} ${number}`;
  const ids = (plant.places ?? []).map((place) => place.id);
  if (shelf === "ways") return { id, name: id, start: ids[0], end: ids[1], length_m: 10, kind: "duct", state: "planned" };
  if (shelf === "cables") return { id, name: id, ways: [plant.ways?.[0]?.id], strands: 12, state: "planned" };
  return { id, name: id, kind: "building" };
}
