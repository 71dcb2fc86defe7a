import { asTyped } from "../shared/doubt";

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

/** What was typed as it is sent: numbers and powers as they stand, the core reads them. */
export function asWish(typed: Typed, lanes: readonly TypedLane[]) {
  const read = lanes
    .map((one, i) => ({
      lane: i + 1,
      tx_dbm: asTyped(one.tx),
      rx_dbm: one.dark ? null : asTyped(one.rx),
      rx_dark: one.dark,
    }))
    .filter((one) => one.tx_dbm !== null || one.rx_dbm !== null || one.rx_dark);
  const { admin, oper, module, serial, neighbor } = typed;
  const counts = {
    errors: asTyped(typed.errors),
    seconds: asTyped(typed.seconds),
    corrected: asTyped(typed.corrected),
    uncorrected: asTyped(typed.uncorrected),
  };
  const accepted = typed.accepted === "" ? null : typed.accepted === "yes";
  return { admin, oper, module, serial, neighbor, ...counts, accepted, lanes: read };
}
