import { useMutation, useQuery } from "@tanstack/react-query";

import {
  type BackboneLink,
  type LinkDetail,
  type MethodAnswer,
  type MethodWish,
  type Project,
  type SplitPort,
  type TrunkSheet,
  call,
  callLive,
} from "../shared/api";
import { useRefresh } from "../shared/queries";

/** The sets of parts that light for what is wished. */
export const useMethods = (project: Project | undefined, wish: MethodWish) =>
  useQuery({
    queryKey: ["backbone", project?.id, project?.revision, wish],
    queryFn: () => callLive<MethodAnswer>(`/projects/${project?.id}/backbone`, wish),
    enabled: project !== undefined,
    retry: false,
    placeholderData: (before) => before,
  });

export function useLayOver(projectId: number | undefined) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: BackboneLink) => call<LinkDetail>(`/projects/${projectId}/backbone/links`, "POST", wish),
    onSuccess: (answered) => refresh(answered),
  });
}

const useSheets = <T>(project: Project | undefined, name: "trunks" | "splits") =>
  useQuery({
    queryKey: ["backbone", name, project?.id, project?.revision],
    queryFn: () => call<T[]>(`/projects/${project?.id}/${name}`),
    enabled: project !== undefined,
    placeholderData: (before) => before,
  });

export const useTrunks = (project: Project | undefined) => useSheets<TrunkSheet>(project, "trunks");
export const useSplits = (project: Project | undefined) => useSheets<SplitPort>(project, "splits");
