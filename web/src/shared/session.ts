import { useSyncExternalStore } from "react";

let asked = false;
const watchers = new Set<() => void>();

/** Says whether the api asks for the passphrase. What stands on the page stays. */
export function setAsked(next: boolean) {
  if (next === asked) return;
  asked = next;
  watchers.forEach((watch) => watch());
}

function watch(watcher: () => void) {
  watchers.add(watcher);
  return () => watchers.delete(watcher);
}

/** Whether the passphrase must be said before anything else. */
export const useAsked = (): boolean => useSyncExternalStore(watch, () => asked);

/** The name that this browser writes into the log; empty where nobody said one. */
export const who = (): string => localStorage.getItem("who") ?? "";

/** Keeps a name for the log in this browser. */
export const keepWho = (name: string): void => localStorage.setItem("who", name.trim().slice(0, 60));
