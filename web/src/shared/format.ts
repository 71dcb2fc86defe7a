import type { Source } from "./api";
import type { LengthUnit } from "./settings";

const METRES_PER_FOOT = 0.3048;
const MINUS = "−";

/** A length for reading: `2.90 km`, `320 m`, `1050 ft`. */
export function lengthText(length_m: number | null | undefined, unit: LengthUnit): string {
  if (length_m === null || length_m === undefined) return "length?";
  if (unit === "ft") {
    const feet = length_m / METRES_PER_FOOT;
    return `${feet < 100 ? feet.toFixed(1) : feet.toFixed(0)} ft`;
  }
  if (length_m >= 1000) return `${(length_m / 1000).toFixed(2)} km`;
  return length_m >= 100 || Number.isInteger(length_m) ? `${length_m.toFixed(0)} m` : `${length_m.toFixed(1)} m`;
}

/** A length for editing: exact, with its unit. */
export function lengthInput(length_m: number | null | undefined, unit: LengthUnit): string {
  if (length_m === null || length_m === undefined) return "";
  const value = unit === "ft" ? length_m / METRES_PER_FOOT : length_m;
  return `${Number(value.toFixed(3))} ${unit}`;
}

/** What was typed, with the person's unit where none was typed. */
export const withUnit = (text: string, unit: LengthUnit): string =>
  /[a-z'"′″]/i.test(text) ? text : `${text} ${unit}`;

const signed = (text: string) => text.replace("-", MINUS);

/** A margin with its sign, rounded towards the worse, so it is never shown better than it is: one digit in lists, two where a person checks by hand. */
export function marginText(value_db: number | null | undefined, digits = 1): string {
  if (value_db === null || value_db === undefined) return "–";
  const scale = 10 ** digits;
  const shown = Math.floor(Number((value_db * scale).toFixed(6))) / scale;
  return `${shown < 0 ? MINUS : "+"}${Math.abs(shown).toFixed(digits)} dB`;
}

/** A loss or power with two decimals and a true minus. */
export const figureText = (value: number, digits = 2): string => signed(value.toFixed(digits));

/** The same, always with a sign. */
export const signedText = (value: number, digits = 2): string =>
  `${value < 0 ? MINUS : "+"}${Math.abs(value).toFixed(digits)}`;

export const rateText = (mbps: number): string => (mbps >= 1000 ? `${mbps / 1000} Gb/s` : `${mbps} Mb/s`);

/** A source in one line. */
export function sourceText(source: Source): string {
  if (!source.document) return `${source.body}: ${source.note}`;
  const document = source.document.startsWith(source.body) ? source.document : `${source.body} ${source.document}`;
  return `${document}, ${source.clause}${source.note ? ` (${source.note})` : ""}`;
}

/** Bytes for a person: `640 kB`, `1.2 MB`. */
export const bytesText = (bytes: number): string =>
  bytes < 1e6 ? `${Math.round(bytes / 1e3)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
