import type { Element, LinkDetail } from "../shared/api";
import { SPACES } from "../shared/generated/lists";
import type { Space } from "../shared/spaces";
import { type More, NOTHING_MORE, type PortWish, countOf } from "./wish";

/** The words of the address that a question is asked with. */
export const ASKED = [
  "new",
  "like",
  "glass",
  "from",
  "to",
  "length",
  "speed",
  "near",
  "far",
  "near-rates",
  "far-rates",
  "near-air",
  "far-air",
  "way",
  "instead",
  "more",
] as const;

const lengthOf = (elements: readonly Element[]): number =>
  elements.reduce(
    (sum, e) =>
      sum +
      (e.kind === "run" || e.kind === "trunk" || (e.kind === "twisted" && e.fixed) || e.kind === "assembly"
        ? (e.length_m ?? 0)
        : 0),
    0,
  );

const airOf = (port: Extract<Element, { kind: "port" }>): string =>
  [port.coldest_c ?? "", port.hottest_c ?? "", port.water, port.dusty ? "dusty" : ""].join(",");

/** The address of the question that a link answers: its ends, ports, distance, speed and way. */
export function askedAgain(detail: LinkDetail): string {
  const { elements, wanted_rate_mbps } = detail.link;
  const [near, far] = [elements[0], elements.at(-1)];
  if (near?.kind !== "port" || far?.kind !== "port") return "new=1";
  const spaces = elements.flatMap((e) =>
    e.kind === "run" || e.kind === "twisted" || e.kind === "assembly" ? e.spaces : [],
  );
  const laid = elements.find((e) => e.kind === "run" && e.part !== "");
  const length_m = lengthOf(elements) || detail.review.length_m;
  return new URLSearchParams({
    new: "1",
    instead: String(detail.id),
    from: near.place || near.label,
    to: far.place || far.label,
    length: length_m ? `${Number(length_m.toFixed(3))} m` : "",
    speed: String(wanted_rate_mbps ?? detail.review.rate_mbps ?? ""),
    near: near.cage,
    far: far.cage,
    "near-rates": near.rates_mbps.join(","),
    "far-rates": far.rates_mbps.join(","),
    "near-air": airOf(near),
    "far-air": airOf(far),
    way: [...new Set(spaces)].join(","),
    ...(laid?.kind === "run" && laid.fiber.length ? { glass: laid.fiber.join(",") } : {}),
  }).toString();
}

const rates = (text: string | null): number[] => (text ?? "").split(",").flatMap((one) => countOf(one) ?? []);

const degrees = (text: string | undefined): number | null => (text ? Number(text) : null);

/** Temperature, water and dust at a port, as the address has them. */
function air(text: string | null): Pick<PortWish, "coldest_c" | "hottest_c" | "water" | "dusty"> {
  const [coldest, hottest, water, dust] = (text ?? "").split(",");
  return {
    coldest_c: degrees(coldest),
    hottest_c: degrees(hottest),
    water: (water || "dry") as PortWish["water"],
    dusty: dust === "dusty",
  };
}

/** The question as it stood before a reload; nothing more where the address was cut short. */
function keptMore(text: string): More {
  try {
    return { ...NOTHING_MORE, ...(JSON.parse(text) as Partial<More>) };
  } catch {
    return NOTHING_MORE;
  }
}

/** What the address says beyond the two places, the distance and the speed. */
export function moreAsked(params: URLSearchParams): More {
  const kept = params.get("more");
  if (kept) return keptMore(kept);
  const way = (params.get("way") ?? "").split(",");
  return {
    ...NOTHING_MORE,
    fiber: params.get("glass")?.split(",") ?? [],
    near: {
      ...NOTHING_MORE.near,
      cage: params.get("near") ?? "",
      rates_mbps: rates(params.get("near-rates")),
      ...air(params.get("near-air")),
    },
    far: {
      ...NOTHING_MORE.far,
      cage: params.get("far") ?? "",
      rates_mbps: rates(params.get("far-rates")),
      ...air(params.get("far-air")),
    },
    spaces: SPACES.filter((space: Space) => way.includes(space)),
  };
}
