import { useQuery } from "@tanstack/react-query";
import { type CheckLine, type FigureLine, type Project, call } from "../shared/api";

export const useFigures = (project: Project | undefined) =>
  useQuery({
    queryKey: ["figures", project?.id, project?.revision, project?.house_revision],
    queryFn: () => call<FigureLine[]>(`/projects/${project?.id}/figures`),
    enabled: project !== undefined,
    staleTime: Infinity, // read once: another state of the project is another key
    placeholderData: (before) => before,
  });

export const useChecks = () =>
  useQuery({ queryKey: ["checks"], queryFn: () => call<CheckLine[]>("/catalog/checks"), staleTime: Infinity });
