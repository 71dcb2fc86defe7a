import { type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type Happened, type HistoryEntry, type Project, type Walk, call, callLong } from "../shared/api";
import { useRefresh } from "../shared/queries";

export const useHistory = (projectId: number | undefined, enabled: boolean) =>
  useQuery({
    queryKey: ["history", projectId],
    queryFn: () => call<HistoryEntry[]>(`/projects/${projectId}/history`),
    enabled: enabled && projectId !== undefined,
  });

/** What was read in a project, also of links that are gone. */
export const useEvents = (project: Project | undefined) =>
  useQuery({
    queryKey: ["events", project?.id, project?.revision],
    queryFn: () => call<Happened[]>(`/projects/${project?.id}/events`),
    enabled: project !== undefined,
  });

/** Until what this page did is answered and shown: only then it knows what the newest change is. */
async function settled(client: QueryClient) {
  const busy = () =>
    client.isMutating({ predicate: (one) => !["walk", "long"].includes(String(one.options.mutationKey?.[0])) }) >
      0 || client.isFetching({ queryKey: ["project"], exact: true }) > 0;
  while (busy()) await new Promise((again) => setTimeout(again, 20));
}

export function useWalk(projectId: number | undefined, way: "undo" | "redo") {
  const refresh = useRefresh();
  const client = useQueryClient();
  return useMutation({
    mutationKey: ["walk"],
    /** Takes the entry that this page shows; another one, made meanwhile by somebody else, is refused and shown. */
    mutationFn: async () => {
      await settled(client);
      const shown = client.getQueryData<Project[]>(["project"])?.find((project) => project.id === projectId)?.[way];
      return shown ? call<Walk>(`/projects/${projectId}/${way}?entry=${shown.entry}`, "POST") : null;
    },
    onSettled: () => {
      client.removeQueries({ queryKey: ["link"], type: "inactive" }); // what comes back comes as it is now
      return refresh();
    },
  });
}

export function useReturn(projectId: number | undefined) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: ({ to, newest }: { to: number; newest: number }) =>
      call<unknown>(`/projects/${projectId}/history/${to}/return?newest=${newest}`, "POST"),
    onSettled: () => refresh(),
  });
}

function useProjectChange<T>(change: (wish: T) => Promise<Project>) {
  const refresh = useRefresh();
  return useMutation({ mutationFn: change, onSuccess: () => refresh() });
}

export const useNewProject = () => useProjectChange((name: string) => call<Project>("/projects", "POST", { name }));

export const useCopyProject = (projectId: number) =>
  useProjectChange((name: string) => call<Project>(`/projects/${projectId}/copy`, "POST", { name }));

export const useRemoveProject = () =>
  useProjectChange((projectId: number) => call<Project>(`/projects/${projectId}`, "DELETE"));

export const useRestoreProject = () =>
  useProjectChange((projectId: number) => call<Project>(`/projects/${projectId}/restore`, "POST"));

export const useRemovedProjects = () =>
  useQuery({ queryKey: ["project", "removed"], queryFn: () => call<Project[]>("/removed-projects") });

export const useOpenPlan = () =>
  useProjectChange((text: string) => callLong<Project>("/projects/open", "POST", { text }));

export const useRename = (projectId: number | undefined) =>
  useProjectChange((name: string) => call<Project>(`/projects/${projectId}/name`, "PUT", { name }));
