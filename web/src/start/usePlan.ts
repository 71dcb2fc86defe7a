import type { Plant, Route } from "../shared/api";
import { usePlant, usePlantQuery, useProject } from "../shared/queries";

export type Place = NonNullable<Plant["places"]>[number];

export interface AskedPlan {
  places: readonly Place[];
  start: Place | undefined;
  end: Place | undefined;
  /** The shortest route between the two that are named: its length in m, and what it passes. */
  route: Route | undefined;
  /** The speed in Mb/s that the devices there want: the fastest of one, and all together. */
  wanted: { one: number; all: number; names: string } | undefined;
}

/** What the plan knows of two places that are named: their distance, and what hangs at the far one. */
export function usePlan(from: string, to: string): AskedPlan {
  const project = useProject().data;
  const plant = usePlant(project).data?.plant;
  const places = plant?.places ?? [];
  const called = (name: string) => places.find((place) => place.name.toLowerCase() === name.trim().toLowerCase());
  const [startPlace, endPlace] = [called(from), called(to)];
  const [start, end] = [startPlace?.id ?? "", endPlace?.id ?? ""];
  const ready = start !== "" && end !== "" && start !== end;
  const routes = usePlantQuery<Route[]>(project, "routes", { start, end }, ready);
  const devices = (plant?.devices ?? []).filter((device) => device.place === end);
  const wanted = devices.length
    ? {
        one: Math.max(...devices.map((device) => device.rate_mbps)),
        all: devices.reduce((sum, device) => sum + device.count * device.rate_mbps, 0),
        names: devices.map((device) => `${device.count} × ${device.name}`).join(", "),
      }
    : undefined;
  return {
    places,
    start: startPlace,
    end: endPlace,
    route: ready ? routes.data?.toSorted((a, b) => a.length_m - b.length_m)[0] : undefined,
    wanted,
  };
}
