import { useSyncExternalStore } from "react";

import { projectIn } from "../shared/address";

/** With what and by whom readings are taken; kept in this browser, each project its own, since it is the same all day. */
export interface ByWhom {
  instrument: string;
  calibrated_on: string;
  operator: string;
  place: string;
}

/** Of each project its own: the place and the crew of one are not those of another. */
const keyHere = () => `tester-${projectIn(window.location.pathname) ?? ""}`;
export const NOBODY: ByWhom = { instrument: "", calibrated_on: "", operator: "", place: "" };

function kept(): ByWhom {
  try {
    return { ...NOBODY, ...(JSON.parse(localStorage.getItem(keyHere()) ?? "{}") as Partial<ByWhom>) };
  } catch {
    return NOBODY;
  }
}

let now: { of: string; by: ByWhom } | null = null;
/** Who reads in the project that is open. */
export const known = (): ByWhom => {
  const of = keyHere();
  if (now?.of !== of) now = { of, by: kept() };
  return now.by;
};
const listeners = new Set<() => void>();

/** Keeps what is known of who reads in the project that is open. */
export function put(next: Partial<ByWhom>) {
  now = { of: keyHere(), by: { ...known(), ...next } };
  localStorage.setItem(now.of, JSON.stringify(now.by));
  listeners.forEach((told) => told());
}

function listen(told: () => void) {
  listeners.add(told);
  return () => listeners.delete(told);
}

/** Who reads or writes, the same for every form of a page. */
export function useByWhom(): [ByWhom, (next: Partial<ByWhom>) => void] {
  const by = useSyncExternalStore(listen, known);
  return [by, put];
}

const two = (value: number) => String(value).padStart(2, "0");

/** The record's head as it is sent: the day and the time are now, an empty day is left out. */
export function signed(by: ByWhom, now = new Date()) {
  return {
    instrument: by.instrument,
    operator: by.operator,
    place: by.place,
    calibrated_on: by.calibrated_on || null,
    taken_on: `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`,
    at_time: `${two(now.getHours())}:${two(now.getMinutes())}:${two(now.getSeconds())}`,
  };
}

/** What is missing before a reading decides, in words. */
export const unsaid = (by: ByWhom): string[] =>
  [
    by.instrument ? "" : "serial number",
    by.calibrated_on ? "" : "calibration day",
    by.operator ? "" : "operator",
    by.place ? "" : "place",
  ].filter(Boolean);
