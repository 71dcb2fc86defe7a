import { useEffect } from "react";
import type { SetURLSearchParams } from "react-router";

/** What was asked so far stands in the address: a reload, a bookmark and a second tab keep it. */
export function useAskedAddress(asked: Record<string, string>, setParams: SetURLSearchParams) {
  const settled = JSON.stringify(asked);
  useEffect(() => {
    const said = JSON.parse(settled) as Record<string, string>;
    setParams((before) => new URLSearchParams({ ...Object.fromEntries(before), ...said }), { replace: true });
  }, [settled, setParams]);
}
