import type { Catalog, Element } from "./api";

/** Jacket colors as they are named in the catalog, for drawing. */
const JACKETS: Record<string, string> = {
  orange: "#e07b2a",
  aqua: "#2bb3b8",
  violet: "#8b5fb0",
  "lime green": "#93c021",
  yellow: "#e3bd1b",
  "black (outdoor)": "#4a4946",
  black: "#2b2a28",
  white: "#f6f5f1",
  slate: "#7d858c",
  green: "#2f9457",
  blue: "#2f6db5",
};

/** A jacket's color by its name in the catalog, for drawing. */
export const jacketInk = (name: string): string => JACKETS[name] ?? UNDECIDED;

/** Colors of plugs and boots by their names in the catalog, for drawing. */
export const PLUG_INKS: Record<string, string> = {
  beige: "#cbb891",
  black: "#2b2a28",
  aqua: "#2bb3b8",
  lime: "#93c021",
  violet: "#8b5fb0",
  blue: "#3a76c4",
  green: "#2f9457",
};
const UNDECIDED = "#8f8d86";

export type Plug = { shape: "LC" | "SC" | "ST" | "FC"; polish: "PC" | "UPC" | "APC" };

/** Connector colors of the trade: green is angled, blue is flat single-mode, beige is multimode. */
export const PLUG_COLORS: Record<Plug["polish"], string> = { APC: "#2f9457", UPC: "#3a76c4", PC: "#cbb891" };

/** The jacket color of a piece of glass; gray while its grade is not decided. */
export function jacketColor(fiber: readonly string[] | undefined, catalog: Catalog | undefined): string {
  const colors = new Set(
    (fiber ?? []).map((name) => catalog?.fibers.find((f) => f.name === name)?.jacket_colors[0]),
  );
  const [only] = colors;
  return colors.size === 1 && only ? (JACKETS[only] ?? UNDECIDED) : UNDECIDED;
}

const GLASS = ["cord", "run", "pigtail", "trunk", "array-cord", "breakout"] as const;

/** A piece of fiber with a length. */
export const isGlass = (e: Element): e is Extract<Element, { kind: (typeof GLASS)[number] }> =>
  (GLASS as readonly string[]).includes(e.kind);

/** Strand and tube colors by name, for drawing beside the name. */
export const STRAND_COLORS: Record<string, string> = {
  blue: "#2f6db5",
  orange: "#e07b2a",
  green: "#2f9457",
  brown: "#7a4b2a",
  slate: "#7d858c",
  white: "#f6f5f1",
  red: "#c8332b",
  black: "#1d1d1b",
  yellow: "#e3bd1b",
  violet: "#8b5fb0",
  rose: "#e79ab0",
  aqua: "#2bb3b8",
  lime: "#93c021",
  tan: "#c8a878",
  olive: "#7b7a35",
  magenta: "#b83280",
};

/** The base color and how many tracers cross it, from words such as "blue with 2 tracers". */
export function tracersOf(color: string): { base: string; tracers: number } {
  const [base = "", marked] = color.split(" with ");
  return { base, tracers: marked === undefined ? 0 : Number.parseInt(marked, 10) || 1 };
}
