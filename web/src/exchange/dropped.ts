/** What a file that was dropped holds, by its name and its head. */
export type Held = "plan" | "package" | "geojson" | "links" | "prices" | "plant" | "readings" | "trace" | "unknown";

/** A file on its way to the page that takes it. */
export interface Dropped {
  name: string;
  held: Held;
  text: string;
}

const HEADS: readonly (readonly [Held, readonly (readonly string[])[]])[] = [
  ["prices", [["item", "price"]]],
  [
    "readings",
    [
      ["wavelength", "loss"],
      ["link", "reading"],
      ["strand", "db"],
    ],
  ],
  [
    "links",
    [
      ["from", "to", "length"],
      ["from", "to", "application"],
      ["from", "to", "speed"],
    ],
  ],
  [
    "plant",
    [
      ["id", "name"],
      ["cable", "strand"],
    ],
  ],
];

/** Reads what a file is: plans and maps by their content, tables by the columns of their first line. */
export function heldIn(name: string, text: string): Held {
  const lower = name.toLowerCase();
  if (lower.endsWith(".zip")) return "package";
  if (lower.endsWith(".sor")) return "trace";
  if (text.trimStart().startsWith("{")) {
    try {
      const found = JSON.parse(text) as { type?: string; format?: string; links?: unknown };
      if (found.type === "FeatureCollection") return "geojson";
      return found.links !== undefined || found.format !== undefined ? "plan" : "unknown";
    } catch {
      return "unknown";
    }
  }
  const first = (text.split(/\r?\n/, 1)[0] ?? "").toLowerCase();
  const columns = first.split(/[,;\t]/).map((one) => one.trim().replaceAll('"', ""));
  const has = (word: string) => columns.some((column) => column.split(/[\s_]+/).includes(word) || column === word);
  return HEADS.find(([, heads]) => heads.some((words) => words.every(has)))?.[0] ?? "unknown";
}

/** Which table of the plant a file is, by the columns that only it has. */
export function shelfIn(text: string): "places" | "ways" | "cables" | "strands" | "taps" | "devices" | "orders" {
  const first = (text.split(/\r?\n/, 1)[0] ?? "").toLowerCase();
  const has = (word: string) => first.includes(word);
  if (has("strand") && has("cable") && !has("ways")) return has("place") ? "taps" : "strands";
  if (has("ways")) return "cables";
  if (has("rate") || has("power")) return "devices";
  if (has("count") || has("why")) return "orders";
  return has("from") || has("length") ? "ways" : "places";
}
