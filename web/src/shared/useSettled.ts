import { useEffect, useState } from "react";

const PAUSE_MS = 150;

/** A value once it has not changed for a moment, so that typing asks once. */
export function useSettled<T>(value: T): T {
  const text = JSON.stringify(value);
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), PAUSE_MS);
    return () => clearTimeout(timer);
  }, [text]);
  return JSON.parse(settled) as T;
}
