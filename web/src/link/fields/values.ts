/** Stores some fields of a piece. */
export type SetValues = (values: Record<string, unknown>) => unknown;
