import { keepPreviousData, queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import {
  type Catalog,
  type HouseRules,
  type LinkDetail,
  type PlantOut,
  type PricesOut,
  ProblemError,
  type Project,
  type VerdictChange,
  call,
  callLive,
} from "./api";
import { type Listed, listKey, readList, rowsOf, withAnswer } from "./listed";
import { useSettings } from "./settings";
import { learnTitles } from "./kinds";
import { reread } from "./reread";

export const useProjects = () => useQuery({ queryKey: ["project"], queryFn: () => call<Project[]>("/projects") });

/** The project in hand: the one that the address names. */
export function useProject() {
  const { projectId } = useSettings();
  const { data, error } = useProjects();
  return { data: data?.find((project) => project.id === projectId), error };
}

const countOf = ({ count }: Listed) => count;

const list = (projectId: number | undefined) =>
  queryOptions({
    queryKey: listKey(projectId),
    queryFn: ({ client }) => readList(client, projectId ?? 0),
    enabled: projectId !== undefined,
    structuralSharing: false, // what did not change is the same already
  });

/** The links of a project, as far as they are here: of very many the first come first. */
export const useLinks = (projectId: number | undefined) => useQuery({ ...list(projectId), select: rowsOf });

/** How many links a project has, also while the last of them are on their way. */
export const useLinkCount = (projectId: number | undefined) =>
  useQuery({ ...list(projectId), select: countOf }).data ?? 0;

export const useLink = (id: number | undefined) =>
  useQuery({
    queryKey: ["link", id],
    queryFn: () => call<LinkDetail>(`/links/${id}`),
    enabled: id !== undefined,
    retry: (count, error) => count < 2 && !(error instanceof ProblemError && error.problem.status === 404),
  });

/** The catalog as the project in hand has it: with its own figures, and its modules from their datasheets. */
export function useCatalog() {
  const project = useProject().data;
  const own = project
    ? JSON.stringify([
        project.house_rules.own_figures,
        project.house_rules.own_modules,
        project.house_rules.profile,
      ])
    : "";
  return useQuery({
    queryKey: ["catalog", project?.id, own],
    queryFn: async () => {
      const catalog = await call<Catalog>(`/projects/${project?.id}/catalog`);
      learnTitles(catalog.kinds);
      return catalog;
    },
    enabled: project !== undefined,
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  });
}

const onPlant = (link: LinkDetail | undefined) => link?.link.elements.some((element) => element.part) ?? false;

/**
 * `alone`: the answer is to an edit of that one link, so that no other row of the list changed with it.
 *
 * After any change: the lists are read again, and every link but the one just answered.
 */
export function useRefresh() {
  const client = useQueryClient();
  return async (answered?: LinkDetail, alone = false) => {
    let told: Listed | null | undefined;
    let rides = true;
    if (answered) {
      rides = [client.getQueryData<LinkDetail>(["link", answered.id]), answered].some(onPlant);
      const known = client.getQueryData<Listed>(listKey(answered.project_id));
      told = known && alone ? withAnswer(known, answered) : null;
      if (told) client.setQueryData(listKey(answered.project_id), told);
      client.setQueryData(["link", answered.id], answered);
      client.setQueryData<Project[]>(["project"], (all) =>
        all?.map((one) =>
          one.id === answered.project_id ? { ...one, undo: answered.undo, redo: answered.redo } : one,
        ),
      );
    }
    await Promise.all([
      reread(client, { queryKey: ["project"] }),
      reread(client, {
        queryKey: ["links"],
        predicate: ({ queryKey: [, id, ...rest] }) => !(told && rest.length === 0 && id === answered?.project_id),
      }),
      reread(client, { queryKey: ["history"] }),
      // A page that shows the plan reads it anew; beside a link it is read where the link stands on something of it.
      reread(client, {
        queryKey: ["plant"],
        predicate: ({ queryKey }) => queryKey.length === 2, // what follows from it goes by revision
        refetchType: rides ? "active" : "none",
      }),
      answered ? null : reread(client, { queryKey: ["ways"] }),
      reread(client, { queryKey: ["link"], predicate: (q) => q.queryKey[1] !== answered?.id }),
    ]);
  };
}

export const plantKey = (projectId: number | undefined) => ["plant", projectId] as const;

export const usePlant = (project: Project | undefined) =>
  useQuery({
    queryKey: plantKey(project?.id),
    queryFn: () => call<PlantOut>(`/projects/${project?.id}/plant`),
    enabled: project !== undefined,
    placeholderData: (before) => before,
  });

type Asked = Record<string, string | readonly string[]>;

export const asked = (query: Asked) =>
  new URLSearchParams(
    Object.entries(query).flatMap(([key, value]) =>
      typeof value === "string" ? [[key, value]] : value.map((one) => [key, one]),
    ),
  ).toString();

/** What follows from the plant as it stands: routes, layouts, capacity, sheets. */
export const usePlantQuery = <T>(project: Project | undefined, name: string, query: Asked, enabled = true) =>
  useQuery({
    queryKey: ["plant", name, project?.id, project?.revision, query],
    queryFn: () => call<T>(`/projects/${project?.id}/plant/${name}?${asked(query)}`),
    enabled: enabled && project !== undefined,
    retry: false,
    placeholderData: (before) => before,
  });

export const usePrices = (projectId: number | undefined) =>
  useQuery({
    queryKey: ["links", "prices", projectId],
    queryFn: () => call<PricesOut>(`/projects/${projectId}/prices`),
    enabled: projectId !== undefined,
  });

export function useSetPrices(projectId: number) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: { text: string; currency: string }) =>
      call<PricesOut>(`/projects/${projectId}/prices`, "PUT", wish),
    onSuccess: () => refresh(),
  });
}

/** Stores rules that were made from those of `project`; refused where they were changed elsewhere since. */
export function useHouseRules(project: Project) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (rules: HouseRules) =>
      call<Project>(`/projects/${project.id}/house-rules?revision=${project.house_revision}`, "PUT", rules),
    onSettled: () => refresh(),
  });
}

/** The links whose verdict other rules would change; asked while they are typed. */
export const useHouseRulesPreview = (projectId: number, rules: HouseRules, enabled: boolean) =>
  useQuery({
    queryKey: ["house-preview", projectId, rules],
    queryFn: () => callLive<VerdictChange[]>(`/projects/${projectId}/house-rules/preview`, rules),
    enabled,
  });
