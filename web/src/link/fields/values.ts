/** Stores some fields of a piece. */
export type SetValues = (values: Record<string, unknown>) => unknown;

/** The temperature classes of modules, each with its range in words. */
export const TEMPERATURES = [
  ["unknown", "class not known"],
  ["commercial", "commercial, 0 to 70 °C"],
  ["extended", "extended, −20 to 85 °C"],
  ["industrial", "industrial, −40 to 85 °C"],
] as const;
