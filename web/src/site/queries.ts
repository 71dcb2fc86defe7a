import { useMutation, useQuery } from "@tanstack/react-query";
import {
  type Evidence,
  type FeedResult,
  type Identified,
  type Plant,
  type PlantOut,
  type RouteRequest,
  call,
} from "../shared/api";
import { useRefresh } from "../shared/queries";

export function useSetPlant(projectId: number | undefined) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: { revision: number; plant: Plant; label: string }) =>
      call<PlantOut>(`/projects/${projectId}/plant`, "PUT", wish),
    onSettled: () => refresh(),
  });
}

export function useBuildRoute(projectId: number | undefined) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: RouteRequest) => call<PlantOut>(`/projects/${projectId}/plant/routes/build`, "POST", wish),
    onSettled: () => refresh(),
  });
}

export const useRemotePower = (feed: Record<string, string>, enabled: boolean) =>
  useQuery({
    enabled,
    queryKey: ["remote-power", feed],
    queryFn: () => call<FeedResult[]>("/remote-power", "POST", feed),
    retry: false,
    placeholderData: (before) => before,
  });

export const useIdentify = (evidence: Evidence) =>
  useQuery({
    queryKey: ["identify", evidence],
    queryFn: () => call<Identified>("/identify", "POST", evidence),
    placeholderData: (before) => before,
  });
