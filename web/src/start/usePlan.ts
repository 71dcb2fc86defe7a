import type { Plant, Route } from "../shared/api";
import { usePlant, usePlantQuery, useProject } from "../shared/queries";

type Place = NonNullable<Plant["places"]>[number];

/** The places of the plant, and the length in m of the route with the least work between two that are named. */
export function usePlan(from: string, to: string): { places: readonly Place[]; length_m: number | undefined } {
  const project = useProject().data;
  const places = usePlant(project).data?.plant.places ?? [];
  const called = (name: string) => places.find((place) => place.name.toLowerCase() === name.trim().toLowerCase())?.id ?? "";
  const [start, end] = [called(from), called(to)];
  const ready = start !== "" && end !== "" && start !== end;
  const routes = usePlantQuery<Route[]>(project, "routes", { start, end }, ready);
  return { places, length_m: ready ? routes.data?.[0]?.length_m : undefined };
}
