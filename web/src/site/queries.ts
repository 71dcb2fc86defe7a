import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import {
  type Evidence,
  type FeedAnswer,
  type Identified,
  type Plant,
  type PlantOut,
  type RouteRequest,
  call,
  callLive,
} from "../shared/api";
import { plantKey, useRefresh } from "../shared/queries";

/** What was answered is the plan from now on: the next change is made from it, not from the one before. */
function useKnowPlant(projectId: number | undefined) {
  const client = useQueryClient();
  return (answered: PlantOut) => void client.setQueryData<PlantOut>(plantKey(projectId), answered);
}

export function useSetPlant(projectId: number | undefined) {
  const refresh = useRefresh();
  const know = useKnowPlant(projectId);
  return useMutation({
    mutationFn: (wish: { revision: number; plant: Plant; label: string }) =>
      call<PlantOut>(`/projects/${projectId}/plant`, "PUT", wish),
    onSuccess: know,
    onSettled: () => refresh(),
  });
}

export function useBuildRoute(projectId: number | undefined) {
  const refresh = useRefresh();
  const know = useKnowPlant(projectId);
  return useMutation({
    mutationFn: (wish: RouteRequest) => call<PlantOut>(`/projects/${projectId}/plant/routes/build`, "POST", wish),
    onSuccess: know,
    onSettled: () => refresh(),
  });
}

export const useRemotePower = (feed: Record<string, string>, enabled: boolean) =>
  useQuery({
    enabled,
    queryKey: ["remote-power", feed],
    queryFn: () => callLive<FeedAnswer>("/remote-power", feed),
    retry: false,
    placeholderData: (before) => before,
  });

export const useIdentify = (evidence: Evidence) =>
  useQuery({
    queryKey: ["identify", evidence],
    queryFn: () => callLive<Identified>("/identify", evidence),
    placeholderData: (before) => before,
  });
