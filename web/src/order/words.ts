import type { BillLine } from "../shared/api";
import { lengthText } from "../shared/format";
import type { LengthUnit } from "../shared/settings";

/** Money with two decimals; the currency stands once in the head. */
export const money = (value: number): string =>
  value.toLocaleString("en-US", { minimumFractionDigits: 2, maximumFractionDigits: 2 });

/** A quantity in the unit of its line. */
export const quantityText = (value: number, line: Pick<BillLine, "unit">, unit: LengthUnit): string =>
  line.unit === "m" ? lengthText(value, unit) : String(value);

/** How a quantity comes about: what is asked for, spares, what is at hand. */
export function reckoning(line: BillLine, unit: LengthUnit): string {
  const parts = [`${quantityText(line.needed, line, unit)} asked`];
  if (line.spares) parts.push(`+ ${quantityText(line.spares, line, unit)} spare`);
  if (line.at_hand) parts.push(`− ${quantityText(line.at_hand, line, unit)} at hand`);
  if (line.quantity !== line.computed) parts.push(`set to ${quantityText(line.quantity, line, unit)}: ${line.why}`);
  if (line.ordered) parts.push(`− ${quantityText(line.ordered, line, unit)} ordered`);
  return parts.join(" ");
}

export const STAGE_WORDS: Record<string, string> = {
  pull: "to pull",
  terminate: "to terminate",
  plug: "to plug",
};

export const BY_WORDS: Record<string, string> = {
  unsaid: "nobody said how it is known",
  guess: "a guess",
  drawing: "from a drawing",
  wheel: "measured with a wheel",
  pulled: "pulled, by the marks of its jacket",
  light: "measured by light",
};
