import { useEffect, useState } from "react";

/** Seconds that are left at a moment, whole and never below zero. */
export const secondsLeft = (endMs: number, nowMs: number): number => Math.max(0, Math.ceil((endMs - nowMs) / 1000));

/** The whole seconds that are left of a wait, and what starts one of so many seconds. */
export function useCountdown(now: () => number = Date.now): [number, (seconds: number) => void] {
  const [endMs, setEnd] = useState(0);
  const [left, setLeft] = useState(0);
  useEffect(() => {
    const look = () => setLeft(secondsLeft(endMs, now()));
    look();
    if (secondsLeft(endMs, now()) === 0) return;
    const timer = setInterval(() => {
      look();
      if (secondsLeft(endMs, now()) === 0) clearInterval(timer);
    }, 250);
    return () => clearInterval(timer);
  }, [endMs, now]);
  return [left, (seconds) => setEnd(now() + seconds * 1000)];
}
