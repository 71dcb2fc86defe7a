import type { NewLink } from "../shared/api";
import { MEDIA } from "../shared/generated/lists";

export type PortWish = NewLink["near"];
/** All of the question but the two places, the distance and the speed. */
export type More = Omit<NewLink, "from_place" | "to_place" | "length_m" | "rate_mbps">;
export type Change = (change: Partial<More>) => void;
export type Medium = NewLink["media"][number];

const ANY_PORT: PortWish = {
  cage: "",
  rates_mbps: [],
  splits: [],
  coding_policy: "any",
  own_above_mbps: 0,
  make: "",
  coldest_c: null,
  hottest_c: null,
  water: "dry",
  dusty: false,
};

export const NOTHING_MORE: More = {
  near: ANY_PORT,
  far: ANY_PORT,
  strands: 2,
  trunk: "",
  trunk_wiring: "reversed",
  hosts: 1,
  fiber: [],
  category: null,
  at_hand: [],
  application: "",
  grade: "",
  pick: "",
  media: [...MEDIA],
  tolerance_percent: 0,
  later_mbps: null,
  rank_by: "school",
  weights: { cost: 3, margin: 1, later: 2, strands: 1, tools: 1, spares: 1 },
  spaces: [],
  outage_matters: false,
};

/** A number that was typed, or null where nothing or nonsense stands. */
export function countOf(text: string): number | null {
  const value = Number.parseInt(text, 10);
  return Number.isFinite(value) && value >= 0 ? value : null;
}
