import type { Plant } from "../shared/api";
import type { Row, Shelf } from "./rows";

/** What an empty table says, with what a first row would be. */
export const EMPTY: Record<Shelf, string> = {
  places: "No places yet. Add the first two: for example Harbor office, and Lock house.",
  ways: "No ways yet. A way leads from one place to another: for example Quay duct, 620 m. It needs two places.",
  cables: "No cables yet. A cable lies in one way or several in their order. It needs a way.",
  taps: "No taps yet. At a tap some strands leave a cable on its way: for example strands 1, 2 at crane 1. It needs a cable.",
  devices: "No devices yet. What hangs at a place makes its demand: for example 2 sonar seats of 25 Gb/s.",
  parts:
    "No shared parts yet. What stands in several links, such as a split assembly with its legs, is shared from a link: take the piece in hand there.",
  frames: "No panel frames yet. A frame has numbered holes; the adapter of a link stands in one of them.",
  orders: "No order lines yet. A damaged cord ends here as a line for its like; What cable can write one.",
};

/** Whether the plan has what a row of a shelf needs. */
export function isReady(shelf: Shelf, plant: Plant): boolean {
  const count = (name: Shelf) => (plant[name] ?? []).length;
  switch (shelf) {
    case "ways":
      return count("places") > 1;
    case "cables":
      return count("ways") > 0;
    case "taps":
      return count("cables") > 0;
    case "devices":
      return count("places") > 0;
    default:
      return true;
  }
}

/** A new row with an id that is still free. Where a way or a cable leads is asked, never preset. */
export function newRow(shelf: Shelf, plant: Plant): Row {
  const rows = (plant[shelf] ?? []) as Row[];
  const word = shelf.slice(0, -1);
  let number = rows.length + 1;
  while (rows.some((row) => row.id === `${word} ${number}`)) number += 1;
  const id = `${word} ${number}`;
  const ids = (plant.places ?? []).map((place) => place.id);
  if (shelf === "ways") return { id, name: "", start: "", end: "", length_m: "", kind: "duct", state: "planned" };
  if (shelf === "cables") return { id, name: "", ways: [], strands: 12, state: "planned" };
  if (shelf === "taps")
    return {
      id,
      name: id,
      cable: plant.cables?.[0]?.id,
      place: (plant.ways ?? []).find((way) => way.id === plant.cables?.[0]?.ways[0])?.end,
      strands: [],
    };
  if (shelf === "devices")
    return { id, name: id, place: ids[0], count: 1, rate_mbps: 1000, typical_w: 0, peak_w: 0 };
  if (shelf === "orders") return { id, name: id, count: 1 };
  if (shelf === "frames") return { id, name: id, holes: 24, held: [] };
  return { id, name: id, kind: "building" };
}

/** What a new way or cable still lacks, in words; empty where it can be added. */
export function lacking(shelf: "ways" | "cables", row: Row): string {
  if (String(row.name).trim() === "") return "give it a name";
  if (shelf === "cables") return (row.ways as unknown[]).length === 0 ? "choose the ways that it lies in" : "";
  if (row.start === "" || row.end === "") return "choose where it leads from and to";
  if (row.start === row.end) return "it leads back to where it starts";
  return String(row.length_m).trim() === "" ? "give its length" : "";
}

/** The ways that go on from where some lead, by id and name; all of them at first. */
export function onward(ways: Plant["ways"], chosen: readonly string[]): [string, string][] {
  const rows = ways ?? [];
  const places = chosen.map((id) => rows.find((way) => way.id === id)).map((way) => [way?.start, way?.end]);
  const last = places.at(-1) ?? [];
  const before = places.at(-2);
  const ends = before ? last.filter((place) => !before.includes(place)) : last;
  return rows
    .filter((way) => !chosen.includes(way.id))
    .filter((way) => chosen.length === 0 || ends.includes(way.start) || ends.includes(way.end))
    .map((way) => [way.id, way.name]);
}
