import { type QueryClient, keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import {
  type BendLoss,
  type BulkOut,
  type BulkRequest,
  type Catalog,
  type Answer,
  type CheckLine,
  type Edit,
  type Evidence,
  type FeedResult,
  type FigureLine,
  type GeoOut,
  type HistoryEntry,
  type HouseRules,
  type Identified,
  type ImportOut,
  type ImportPreview,
  type ImportRequest,
  type LikeLink,
  type LinkDetail,
  type LinkRow,
  type NewLink,
  type Plant,
  type PlantOut,
  type PlantTableOut,
  type PlantTableRequest,
  type PricesOut,
  type WayChoice,
  type RequirementsRequest,
  type Problem,
  ProblemError,
  type Project,
  type RouteRequest,
  type VerdictChange,
  type Walk,
  type WhatIf,
  type WhatIfOut,
  call,
  callLong,
} from "./api";
import { useSettings } from "./settings";
import { learnTitles } from "./kinds";

export const useProjects = () => useQuery({ queryKey: ["project"], queryFn: () => call<Project[]>("/projects") });

/** The project in hand: the one that the address names. */
export function useProject() {
  const { projectId } = useSettings();
  const { data, error } = useProjects();
  return { data: data?.find((project) => project.id === projectId), error };
}

export const useLinks = (projectId: number | undefined) =>
  useQuery({
    queryKey: ["links", projectId],
    queryFn: () => call<LinkRow[]>(`/projects/${projectId}/links`),
    enabled: projectId !== undefined,
  });

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

export const useHistory = (projectId: number | undefined, enabled: boolean) =>
  useQuery({
    queryKey: ["history", projectId],
    queryFn: () => call<HistoryEntry[]>(`/projects/${projectId}/history`),
    enabled: enabled && projectId !== undefined,
  });

/** After any change: the lists are read again, and every link but the one just answered. */
function useRefresh() {
  const client = useQueryClient();
  return async (answered?: LinkDetail) => {
    if (answered) {
      client.setQueryData(["link", answered.id], answered);
      client.setQueryData<Project[]>(["project"], (all) =>
        all?.map((one) =>
          one.id === answered.project_id ? { ...one, undo: answered.undo, redo: answered.redo } : one,
        ),
      );
    }
    await Promise.all([
      client.invalidateQueries({ queryKey: ["project"] }),
      client.invalidateQueries({ queryKey: ["links"] }),
      client.invalidateQueries({ queryKey: ["history"] }),
      client.invalidateQueries({ queryKey: ["link"], predicate: (q) => q.queryKey[1] !== answered?.id }),
    ]);
  };
}

export interface EditWish {
  edits: Edit[];
  label?: string;
}

export function useEditLink(link: LinkDetail) {
  const refresh = useRefresh();
  const client = useQueryClient();
  return useMutation({
    scope: { id: `link-${link.id}` },
    mutationFn: (wish: EditWish) => {
      const known = client.getQueryData<LinkDetail>(["link", link.id]) ?? link;
      return call<LinkDetail>(`/links/${link.id}/edits`, "POST", { revision: known.revision, label: "", ...wish });
    },
    // Nobody waits for the lists: the answer itself is what the link shows.
    onSuccess: (answered) => void refresh(answered),
    onError: (error) => {
      const current: Problem["current"] = error instanceof ProblemError ? error.problem.current : null;
      if (current) void refresh(current);
    },
  });
}

/** What may take a minute: undo does not wait for it. */
const LONG = ["long"];

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
    onSettled: () => refresh(),
  });
}

export function useCreateLink(projectId: number | undefined) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: NewLink) => call<LinkDetail>(`/projects/${projectId}/links`, "POST", wish),
    onSuccess: refresh,
  });
}

/** What could be built between two places; asked while the question is typed. */
export const useAnswer = (projectId: number | undefined, wish: NewLink, enabled: boolean) =>
  useQuery({
    queryKey: ["answer", projectId, wish],
    queryFn: () => call<Answer>(`/projects/${projectId}/links/answer`, "POST", wish),
    enabled: enabled && projectId !== undefined,
    retry: false,
    placeholderData: (before) => before,
  });

export function useCreateLike(projectId: number | undefined) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: ({ like, wish }: { like: number; wish: LikeLink }) =>
      call<LinkDetail>(`/projects/${projectId}/links/like/${like}`, "POST", wish),
    onSuccess: refresh,
  });
}

export const useWhatIf = (link: LinkDetail, wish: WhatIf) =>
  useQuery({
    queryKey: ["what-if", link.id, link.revision, wish],
    queryFn: () => call<WhatIfOut>(`/links/${link.id}/what-if`, "POST", wish),
    retry: false,
    placeholderData: (before) => before,
  });

export const useFigures = (project: Project | undefined) =>
  useQuery({
    queryKey: ["figures", project?.id, project?.revision],
    queryFn: () => call<FigureLine[]>(`/projects/${project?.id}/figures`),
    enabled: project !== undefined,
    placeholderData: (before) => before,
  });

export const usePlant = (project: Project | undefined) =>
  useQuery({
    queryKey: ["plant", project?.id, project?.revision],
    queryFn: () => call<PlantOut>(`/projects/${project?.id}/plant`),
    enabled: project !== undefined,
    placeholderData: (before) => before,
  });

export function useSetPlant(projectId: number | undefined) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: { revision: number; plant: Plant; label: string }) =>
      call<PlantOut>(`/projects/${projectId}/plant`, "PUT", wish),
    onSettled: () => refresh(),
  });
}

type Asked = Record<string, string | readonly string[]>;

const asked = (query: Asked) =>
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

export const usePrices = (projectId: number | undefined) =>
  useQuery({
    queryKey: ["links", "prices", projectId],
    queryFn: () => call<PricesOut>(`/projects/${projectId}/prices`),
    enabled: projectId !== undefined,
  });

/** Where a link between two places of the plan could lie; asked for again whenever it changes. */
export const useWays = (detail: LinkDetail) =>
  useQuery({
    queryKey: ["links", "ways", detail.id, detail.revision],
    queryFn: () => call<WayChoice[]>(`/links/${detail.id}/ways`),
  });

export function usePlaceLink(detail: LinkDetail) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (key: string) =>
      call<LinkDetail>(`/links/${detail.id}/place`, "POST", { revision: detail.revision, key }),
    onSuccess: () => refresh(),
  });
}

export function useSetPrices(projectId: number) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: { text: string; currency: string }) =>
      call<PricesOut>(`/projects/${projectId}/prices`, "PUT", wish),
    onSuccess: () => refresh(),
  });
}

export function useTakeRequirements(projectId: number) {
  const refresh = useRefresh();
  return useMutation({
    mutationKey: LONG,
    mutationFn: (wish: {
      text: string;
      lines: number[];
      unit: "m" | "ft";
      rank_by: RequirementsRequest["rank_by"];
      mapping: RequirementsRequest["mapping"];
    }) => callLong<ImportOut>(`/projects/${projectId}/requirements/take`, "POST", wish),
    onSuccess: () => refresh(),
  });
}

export const useBendLoss = (radius_mm: string) =>
  useQuery({
    queryKey: ["bend-loss", radius_mm],
    queryFn: () => call<BendLoss[]>(`/bend-loss?radius_mm=${encodeURIComponent(radius_mm)}`),
    enabled: radius_mm !== "",
    retry: false,
    placeholderData: (before) => before,
  });

export const usePlantTable = (projectId: number, wish: PlantTableRequest, enabled: boolean) =>
  useQuery({
    queryKey: ["plant-table", projectId, wish],
    queryFn: () => callLong<PlantTableOut>(`/projects/${projectId}/plant/tables/preview`, "POST", wish),
    enabled,
    retry: false,
    placeholderData: (before) => before,
  });

export function usePlantTableImport(projectId: number) {
  const refresh = useRefresh();
  return useMutation({
    mutationKey: LONG,
    mutationFn: (wish: PlantTableRequest) =>
      callLong<PlantOut>(`/projects/${projectId}/plant/tables`, "POST", wish),
    onSuccess: () => refresh(),
  });
}

export const useGeoPreview = (projectId: number, text: string, slack: string) =>
  useQuery({
    queryKey: ["geojson", projectId, text, slack],
    queryFn: () =>
      callLong<GeoOut>(`/projects/${projectId}/plant/geojson/preview`, "POST", {
        text,
        slack_percent: slack.replace(",", "."),
      }),
    enabled: text !== "",
    retry: false,
  });

export function useGeoImport(projectId: number) {
  const refresh = useRefresh();
  return useMutation({
    mutationKey: LONG,
    mutationFn: ({ text, slack }: { text: string; slack: string }) =>
      callLong<PlantOut>(`/projects/${projectId}/plant/geojson`, "POST", {
        text,
        slack_percent: slack.replace(",", "."),
      }),
    onSuccess: () => refresh(),
  });
}

export function useLay(link: LinkDetail) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: { element: string; cable: string; tap?: string }) =>
      call<LinkDetail>(`/links/${link.id}/lay`, "POST", { revision: link.revision, ...wish }),
    onSuccess: refresh,
  });
}

export const useIdentify = (evidence: Evidence) =>
  useQuery({
    queryKey: ["identify", evidence],
    queryFn: () => call<Identified>("/identify", "POST", evidence),
    placeholderData: (before) => before,
  });

export const useChecks = () =>
  useQuery({ queryKey: ["checks"], queryFn: () => call<CheckLine[]>("/catalog/checks"), staleTime: Infinity });

export function useDeleteLink() {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (link: LinkDetail) => call<Project>(`/links/${link.id}?revision=${link.revision}`, "DELETE"),
    onSettled: () => refresh(),
  });
}

export function useDuplicateLink() {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (id: number) => call<LinkDetail>(`/links/${id}/duplicate`, "POST"),
    onSuccess: refresh,
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
    queryFn: () => call<VerdictChange[]>(`/projects/${projectId}/house-rules/preview`, "POST", rules),
    enabled,
  });

/** What one change of many links would do; asked before it is made. */
export const useBulkPreview = (projectId: number, wish: BulkRequest, enabled: boolean) =>
  useQuery({
    queryKey: ["bulk-preview", projectId, wish],
    queryFn: () => call<BulkOut>(`/projects/${projectId}/bulk/preview`, "POST", wish),
    enabled,
  });

export function useBulk(projectId: number) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: BulkRequest) => call<BulkOut>(`/projects/${projectId}/bulk`, "POST", wish),
    onSuccess: () => refresh(),
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

export const useImportPreview = (projectId: number, wish: ImportRequest, enabled: boolean) =>
  useQuery({
    queryKey: ["import-preview", projectId, wish],
    queryFn: () => callLong<ImportPreview>(`/projects/${projectId}/import/preview`, "POST", wish),
    enabled,
    placeholderData: (before) => before,
  });

export function useTableImport(projectId: number) {
  const refresh = useRefresh();
  return useMutation({
    mutationKey: LONG,
    mutationFn: (wish: ImportRequest) => callLong<ImportOut>(`/projects/${projectId}/import`, "POST", wish),
    onSuccess: () => refresh(),
  });
}

export function usePlanImport(projectId: number | undefined) {
  const refresh = useRefresh();
  return useMutation({
    mutationKey: LONG,
    mutationFn: (text: string) => callLong<ImportOut>(`/projects/${projectId}/plan`, "POST", { text }),
    onSuccess: () => refresh(),
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
