import { expect, test } from "vitest";

import type { LinkDetail } from "../shared/api";
import { askedAgain, moreAsked } from "./again";
import { NOTHING_MORE, countOf } from "./wish";

const port = (place: string, more: object) => ({
  kind: "port",
  id: place,
  place,
  label: "",
  cage: "SFP+",
  rates_mbps: [1000, 10_000],
  water: "dry",
  dusty: false,
  coldest_c: null,
  hottest_c: null,
  ...more,
});
const detail = {
  review: { length_m: 189, rate_mbps: 10_000 },
  link: {
    wanted_rate_mbps: 1000,
    elements: [
      port("Harbor office", {}),
      {
        kind: "run",
        id: "run-1",
        length_m: 185,
        fiber: ["OM1", "OM2"],
        cable: "cold store",
        spaces: ["indoors", "riser"],
      },
      port("Cold store", { cage: "SFP", coldest_c: -25, hottest_c: 5, water: "hosed" }),
    ],
  },
} as unknown as LinkDetail;

test("the question that a link answers goes through the address and back", () => {
  const params = new URLSearchParams(askedAgain(detail));
  expect([params.get("from"), params.get("to"), params.get("length"), params.get("speed")]).toEqual([
    "Harbor office",
    "Cold store",
    "185 m",
    "1000",
  ]);
  const more = moreAsked(params);
  expect(more.fiber).toEqual(["OM1", "OM2"]);
  expect(more.near).toMatchObject({ cage: "SFP+", rates_mbps: [1000, 10_000], coldest_c: null });
  expect(more.far).toMatchObject({ cage: "SFP", coldest_c: -25, hottest_c: 5, water: "hosed", dusty: false });
  expect(more.spaces).toEqual(["indoors", "riser"]);
});

test("an address that says nothing asks nothing more", () => {
  expect(moreAsked(new URLSearchParams())).toEqual(NOTHING_MORE);
  expect([countOf("12"), countOf(""), countOf("-3"), countOf("x")]).toEqual([12, null, null, null]);
});
