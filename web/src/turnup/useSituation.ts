import { useState } from "react";

import type { Situation } from "./queries";

const KEY = "situation";
const START: Situation = { here: "left", travel_min: 15, tools: [], spares: false, people: 1 };

function kept(): Situation {
  try {
    return { ...START, ...(JSON.parse(localStorage.getItem(KEY) ?? "{}") as Partial<Situation>) };
  } catch {
    return START;
  }
}

/** Where one is and what is at hand, kept in this browser. */
export function useSituation(): [Situation, (next: Partial<Situation>) => void] {
  const [situation, setSituation] = useState(kept);
  const put = (next: Partial<Situation>) =>
    setSituation((before) => {
      const after = { ...before, ...next };
      localStorage.setItem(KEY, JSON.stringify(after));
      return after;
    });
  return [situation, put];
}
