/** What a person types of a port that no box is asked for. */
export interface Typed {
  admin: string;
  oper: string;
  module: string;
  serial: string;
  neighbor: string;
  errors: string;
  seconds: string;
  corrected: string;
  uncorrected: string;
  accepted: string;
}

export const EMPTY: Typed = {
  admin: "",
  oper: "",
  module: "",
  serial: "",
  neighbor: "",
  errors: "",
  seconds: "",
  corrected: "",
  uncorrected: "",
  accepted: "",
};

/** A lane as it is typed. */
export interface TypedLane {
  tx: string;
  rx: string;
  dark: boolean;
}

const MILLIWATTS: Record<string, number> = { mw: 1, uw: 1e-3, µw: 1e-3, μw: 1e-3 };

/** A level as people type it: minus of any kind, a comma for a point, mW or µW for dBm; null empty, NaN no number. */
export function asDbm(text: string): number | null {
  const plain = text.trim().toLowerCase().replace(/[−–]/g, "-").replace(",", ".");
  if (plain === "") return null;
  const [, digits, unit = "dbm"] = /^([+-]?\d+(?:\.\d+)?)\s*(dbm|mw|uw|µw|μw)?$/.exec(plain) ?? [];
  if (digits === undefined) return Number.NaN;
  if (unit === "dbm") return Number(digits);
  const mw = Number(digits) * (MILLIWATTS[unit] ?? Number.NaN);
  return mw > 0 ? Number((10 * Math.log10(mw)).toFixed(2)) : Number.NaN;
}

/** A count: digits, in groups of three if at all, so that "1,5" is not read as fifteen; null empty, NaN no count. */
export function asCount(text: string): number | null {
  const plain = text.trim();
  if (plain === "") return null;
  return /^(\d+|\d{1,3}([ ,]\d{3})+)$/.test(plain) ? Number(plain.replace(/[ ,]/g, "")) : Number.NaN;
}

/** What was typed as it is sent, or in words what cannot be read and how it is typed. */
export function asWish(typed: Typed, lanes: readonly TypedLane[]) {
  const no = lanes.flatMap((one) => [one.tx, one.dark ? "" : one.rx]).find((one) => Number.isNaN(asDbm(one)));
  if (no !== undefined) {
    return `"${no}" is no power: type it as the box shows it, such as −6.2, 0.24 mW or 240 µW. Without light: no light.`;
  }
  const counts = [typed.errors, typed.seconds, typed.corrected, typed.uncorrected].map(asCount);
  const [errors, seconds, corrected, uncorrected] = counts;
  if (counts.some((one) => Number.isNaN(one))) {
    return "Errors, seconds and codewords are whole numbers, such as 0 or 1,500.";
  }
  const read = lanes
    .map((one, i) => ({
      lane: i + 1,
      tx_dbm: asDbm(one.tx),
      rx_dbm: one.dark ? null : asDbm(one.rx),
      rx_dark: one.dark,
    }))
    .filter((one) => one.tx_dbm !== null || one.rx_dbm !== null || one.rx_dark);
  const { admin, oper, module, serial, neighbor } = typed;
  const accepted = typed.accepted === "" ? null : typed.accepted === "yes";
  return { admin, oper, module, serial, neighbor, errors, seconds, corrected, uncorrected, accepted, lanes: read };
}
