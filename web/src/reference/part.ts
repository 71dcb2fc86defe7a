import type { Catalog } from "../shared/api";

/** What each part of the reference is given: the catalog, and whether a row is what is looked for. */
export interface ReferencePart {
  catalog: Catalog;
  fits: (...cells: string[]) => boolean;
}
