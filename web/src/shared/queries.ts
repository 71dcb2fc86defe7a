import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

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
} from "./api";
import { useSettings } from "./settings";

export const useProjects = () => useQuery({ queryKey: ["project"], queryFn: () => call<Project[]>("/projects") });

/** The project in hand: the one chosen in this browser, else the first. */
export function useProject() {
  const { projectId } = useSettings();
  const { data, error } = useProjects();
  return { data: data?.find((project) => project.id === projectId) ?? data?.[0], error };
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

export const useCatalog = () =>
  useQuery({ queryKey: ["catalog"], queryFn: () => call<Catalog>("/catalog"), staleTime: Infinity });

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
    if (answered) client.setQueryData(["link", answered.id], answered);
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

export function useWalk(projectId: number | undefined, way: "undo" | "redo") {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: () => call<Walk>(`/projects/${projectId}/${way}`, "POST"),
    onSuccess: () => refresh(),
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
    mutationFn: ({ like, wish }: { like: number; wish: LikeLink }) => call<LinkDetail>(`/projects/${projectId}/links/like/${like}`, "POST", wish),
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
    mutationFn: (wish: { revision: number; plant: Plant; label: string }) => call<PlantOut>(`/projects/${projectId}/plant`, "PUT", wish),
    onSettled: () => refresh(),
  });
}

type Asked = Record<string, string | readonly string[]>;

const asked = (query: Asked) =>
  new URLSearchParams(Object.entries(query).flatMap(([key, value]) => (typeof value === "string" ? [[key, value]] : value.map((one) => [key, one])))).toString();

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

export const useRemotePower = (feed: Record<string, string>) =>
  useQuery({
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

export function useSetPrices(projectId: number) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: { text: string; currency: string }) => call<PricesOut>(`/projects/${projectId}/prices`, "PUT", wish),
    onSuccess: () => refresh(),
  });
}

export function useTakeRequirements(projectId: number) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: { text: string; lines: number[]; unit: "m" | "ft"; rank_by: RequirementsRequest["rank_by"] }) => call<ImportOut>(`/projects/${projectId}/requirements/take`, "POST", wish),
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
    queryFn: () => call<PlantTableOut>(`/projects/${projectId}/plant/tables/preview`, "POST", wish),
    enabled,
    retry: false,
    placeholderData: (before) => before,
  });

export function usePlantTableImport(projectId: number) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: PlantTableRequest) => call<PlantOut>(`/projects/${projectId}/plant/tables`, "POST", wish),
    onSuccess: () => refresh(),
  });
}

export const useGeoPreview = (projectId: number, text: string, slack: string) =>
  useQuery({
    queryKey: ["geojson", projectId, text, slack],
    queryFn: () => call<GeoOut>(`/projects/${projectId}/plant/geojson/preview`, "POST", { text, slack_percent: slack.replace(",", ".") }),
    enabled: text !== "",
    retry: false,
  });

export function useGeoImport(projectId: number) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: ({ text, slack }: { text: string; slack: string }) => call<PlantOut>(`/projects/${projectId}/plant/geojson`, "POST", { text, slack_percent: slack.replace(",", ".") }),
    onSuccess: () => refresh(),
  });
}

export function useLay(link: LinkDetail) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: { element: string; cable: string; tap?: string }) => call<LinkDetail>(`/links/${link.id}/lay`, "POST", { revision: link.revision, ...wish }),
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
    mutationFn: (id: number) => call<Project>(`/links/${id}`, "DELETE"),
    onSuccess: () => refresh(),
  });
}

export function useDuplicateLink() {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (id: number) => call<LinkDetail>(`/links/${id}/duplicate`, "POST"),
    onSuccess: refresh,
  });
}

export function useHouseRules(projectId: number | undefined) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (rules: HouseRules) => call<Project>(`/projects/${projectId}/house-rules`, "PUT", rules),
    onSuccess: () => refresh(),
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
    mutationFn: (entryId: number) => call<unknown>(`/projects/${projectId}/history/${entryId}/return`, "POST"),
    onSuccess: () => refresh(),
  });
}

export const useImportPreview = (projectId: number, wish: ImportRequest, enabled: boolean) =>
  useQuery({
    queryKey: ["import-preview", projectId, wish],
    queryFn: () => call<ImportPreview>(`/projects/${projectId}/import/preview`, "POST", wish),
    enabled,
    placeholderData: (before) => before,
  });

export function useTableImport(projectId: number) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: ImportRequest) => call<ImportOut>(`/projects/${projectId}/import`, "POST", wish),
    onSuccess: () => refresh(),
  });
}

export function usePlanImport(projectId: number | undefined) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (text: string) => call<ImportOut>(`/projects/${projectId}/plan`, "POST", { text }),
    onSuccess: () => refresh(),
  });
}

function useProjectChange<T>(change: (wish: T) => Promise<Project>) {
  const refresh = useRefresh();
  return useMutation({ mutationFn: change, onSuccess: () => refresh() });
}

export const useNewProject = () => useProjectChange((name: string) => call<Project>("/projects", "POST", { name }));

export const useOpenPlan = () => useProjectChange((text: string) => call<Project>("/projects/open", "POST", { text }));

export const useRename = (projectId: number | undefined) =>
  useProjectChange((name: string) => call<Project>(`/projects/${projectId}/name`, "PUT", { name }));
