import { useEffect, useRef } from "react";
import { useLocation } from "react-router";

import type { Element } from "../shared/api";

/** What goes with the address of a link that was just made: its first piece takes the focus. */
export const MADE = { state: { made: true } };

/** Lets the focus follow what was made: the first piece of a new chain, or the piece that was put in. */
export function useFocusMade(
  elements: readonly Element[],
): (before: readonly Element[], now: readonly Element[]) => void {
  const { state } = useLocation() as { state: { made?: boolean } | null };
  const target = useRef(state?.made ? elements[0]?.id : undefined);
  useEffect(() => {
    const piece = target.current && document.getElementById(`piece-${target.current}`);
    if (!piece) return;
    piece.focus();
    target.current = undefined;
  }, [elements]);
  return (before, now) => {
    const known = new Set(before.map((element) => element.id));
    const put = now.filter((element) => !known.has(element.id));
    if (put.length !== 1) return;
    target.current = put[0]?.id;
    document.getElementById(`piece-${target.current}`)?.focus(); // where it is drawn already
  };
}
