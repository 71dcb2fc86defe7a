import { useSyncExternalStore } from "react";

/** With what and by whom readings are taken; kept in this browser, since it is the same all day. */
export interface ByWhom {
  instrument: string;
  calibrated_on: string;
  operator: string;
  place: string;
}

const KEY = "tester";
const NOBODY: ByWhom = { instrument: "", calibrated_on: "", operator: "", place: "" };

function kept(): ByWhom {
  try {
    return { ...NOBODY, ...(JSON.parse(localStorage.getItem(KEY) ?? "{}") as Partial<ByWhom>) };
  } catch {
    return NOBODY;
  }
}

let now: ByWhom | null = null;
const listeners = new Set<() => void>();

function put(next: Partial<ByWhom>) {
  now = { ...(now ?? kept()), ...next };
  localStorage.setItem(KEY, JSON.stringify(now));
  listeners.forEach((told) => told());
}

function listen(told: () => void) {
  listeners.add(told);
  return () => listeners.delete(told);
}

/** Who reads or writes, the same for every form of a page. */
export function useByWhom(): [ByWhom, (next: Partial<ByWhom>) => void] {
  const by = useSyncExternalStore(listen, () => (now ??= kept()));
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
