/** A shelf of the plant, and a row of it as the tables see it. */
export type Shelf = "places" | "ways" | "cables" | "taps" | "devices" | "orders" | "parts" | "frames";
export type Row = Record<string, unknown> & { id: string; name: string };
