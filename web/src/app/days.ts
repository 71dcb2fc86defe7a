/** What happened on one day, newest first, and how much of it by whose hand. */
export interface Day<T> {
  /** Year, month and day where the person is, as `2026-11-26`. */
  day: string;
  entries: T[];
  hands: readonly (readonly [name: string, count: number])[];
}

const localDay = (at: string): string => {
  const time = new Date(at);
  const two = (n: number) => String(n).padStart(2, "0");
  return `${time.getFullYear()}-${two(time.getMonth() + 1)}-${two(time.getDate())}`;
};

/** Entries by the day that they were made on, in the order in which they come. */
export function byDay<T extends { at: string; who: string }>(entries: readonly T[]): Day<T>[] {
  const days = new Map<string, T[]>();
  for (const entry of entries) {
    const day = localDay(entry.at);
    days.set(day, [...(days.get(day) ?? []), entry]);
  }
  return [...days].map(([day, inside]) => {
    const hands = new Map<string, number>();
    for (const { who } of inside) hands.set(who || "nobody named", (hands.get(who || "nobody named") ?? 0) + 1);
    return { day, entries: inside, hands: [...hands].sort((a, b) => b[1] - a[1]) };
  });
}

/** A day for reading. */
export const dayText = (day: string): string =>
  new Date(`${day}T12:00:00`).toLocaleDateString("en-US", {
    weekday: "long",
    year: "numeric",
    month: "long",
    day: "numeric",
  });
