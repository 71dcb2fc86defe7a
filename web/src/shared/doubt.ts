import { useSyncExternalStore } from "react";

import type { components } from "./generated/api";

type Problem = components["schemas"]["Problem"];
type FieldProblem = NonNullable<Problem["errors"]>[number];
/** A number with a comma, as it was typed, and the plain ways to type it: the core says which there are. */
export type Doubt = Required<Pick<FieldProblem, "field" | "typed" | "readings">>;

export const SIGNS = ["ask", "point", "comma"] as const;
/** How this person writes numbers: asked each time, `1,200` is 1200, or `1,200` is 1.2. Files never follow it. */
export type DecimalSign = (typeof SIGNS)[number];
const KEPT = "decimal-sign";

interface Waiting {
  doubt: Doubt;
  answer: (reading: string | null) => void;
}

let waiting: Waiting[] = [];
const answered = new Map<string, string>();
const listeners = new Set<() => void>();
const tell = () => listeners.forEach((one) => one());
const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => void listeners.delete(listener);
};

export const decimalSign = (): DecimalSign =>
  SIGNS.find((one) => one === globalThis.localStorage?.getItem(KEPT)) ?? "ask";

export function keepDecimalSign(sign: DecimalSign): void {
  localStorage.setItem(KEPT, sign);
  tell();
}

export const useDecimalSign = (): DecimalSign => useSyncExternalStore(subscribe, decimalSign);

/** The number that is asked about now, if any. */
export const useWaiting = (): Waiting | undefined => useSyncExternalStore(subscribe, () => waiting[0]);

/** A number as it was typed, for the api: the core reads it. Null where nothing was typed. */
export const asTyped = (text: string): number | null =>
  text.trim() === "" ? null : (text.trim() as unknown as number);

/** Numbers one after the other; a comma before exactly three digits may group them and is left to the core. */
export const numbersIn = (text: string): string[] =>
  text.split(/[;\s]+|,(?!\d{3}(?!\d))\s*/).filter((one) => one !== "");

/** What of a problem can be sent again with another way to type a number. */
export const doubtsOf = (problem: Problem): Doubt[] =>
  (problem.errors ?? []).flatMap(({ field, typed, readings }) =>
    typed && readings?.length ? [{ field, typed, readings }] : [],
  );

/** How this person means a number: as the sign says, or as it was answered before; undefined where nobody knows. */
export function meant({ typed, readings }: Doubt): string | undefined {
  const [grouped, decimal = grouped] = readings;
  const sign = decimalSign();
  if (readings.length === 1 || sign === "point") return grouped;
  return sign === "comma" ? decimal : answered.get(typed);
}

/** Keep what a person answered: the same text means the same until the page is loaded again. */
export function answer(doubt: Doubt, reading: string): void {
  answered.set(doubt.typed, reading);
  tell();
}

/** Ask the person; null where no answer is wanted. */
export const ask = (doubt: Doubt): Promise<string | null> =>
  new Promise((done) => {
    const one: Waiting = {
      doubt,
      answer: (reading) => {
        waiting = waiting.filter((other) => other !== one);
        tell();
        done(reading);
      },
    };
    waiting = [...waiting, one];
    tell();
  });

const lastName = (field: string) => field.split(".").findLast((part) => !/^\d*$/.test(part)) ?? "";

/** A request's content with one number typed otherwise; the same object where it is not in it. */
export function withReading(content: unknown, doubt: Doubt, reading: string, name = ""): unknown {
  const wanted = lastName(doubt.field);
  if (content === doubt.typed) return wanted === "" || wanted === name ? reading : content;
  if (Array.isArray(content)) {
    const items = content.map((item) => withReading(item, doubt, reading, name));
    return items.some((item, i) => item !== content[i]) ? items : content;
  }
  if (content === null || typeof content !== "object") return content;
  const entries = Object.entries(content).map(
    ([key, item]) => [key, withReading(item, doubt, reading, key)] as const,
  );
  return entries.some(([key, item]) => item !== (content as Record<string, unknown>)[key])
    ? Object.fromEntries(entries)
    : content;
}

/** The same for what an address asks. */
export function pathWithReading(path: string, doubt: Doubt, reading: string): string {
  const [page, query] = path.split("?");
  if (query === undefined) return path;
  const wanted = lastName(doubt.field);
  const asked = [...new URLSearchParams(query)].map(([key, text]) => [
    key,
    text === doubt.typed && (wanted === "" || wanted === key) ? reading : text,
  ]);
  return `${page}?${new URLSearchParams(asked)}`;
}
