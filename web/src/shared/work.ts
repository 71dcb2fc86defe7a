import { useSyncExternalStore } from "react";

/** Calls that may take long, by the names under which the api tells how far they are. */
let names: readonly string[] = [];
const watchers = new Set<() => void>();

function set(next: readonly string[]) {
  names = next;
  watchers.forEach((watch) => watch());
}

/** Does something under a name of its own, which stands among the names meanwhile. */
export async function underName<T>(doing: (name: string) => Promise<T>): Promise<T> {
  const name = Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) =>
    byte.toString(16).padStart(2, "0"),
  ).join("");
  set([...names, name]);
  try {
    return await doing(name);
  } finally {
    set(names.filter((other) => other !== name));
  }
}

function watch(watcher: () => void) {
  watchers.add(watcher);
  return () => watchers.delete(watcher);
}

/** The names of what is under way now. */
export const useWork = (): readonly string[] => useSyncExternalStore(watch, () => names);
