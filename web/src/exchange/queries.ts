import { useMutation, useQuery } from "@tanstack/react-query";
import {
  type GeoOut,
  type ImportOut,
  type ImportPreview,
  type ImportRequest,
  type PlantOut,
  type PlantTableOut,
  type PlantTableRequest,
  type RequirementsRequest,
  callLong,
} from "../shared/api";
import { useRefresh } from "../shared/queries";

/** What may take a minute: undo does not wait for it. */
const LONG = ["long"];

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
        slack_percent: slack.trim(),
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
        slack_percent: slack.trim(),
      }),
    onSuccess: () => refresh(),
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
