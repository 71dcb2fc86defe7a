import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import {
  type BoxWish,
  type BoxesOut,
  type DiagnosisOut,
  type HandoverOut,
  type LogLine,
  type ModuleOut,
  type NetworkOut,
  type Project,
  type SecretWish,
  type TurnUpOut,
  type TurnUpsOut,
  type WriteOut,
  call,
  callLive,
} from "../shared/api";
import { useRefresh } from "../shared/queries";
import { reread } from "../shared/reread";

/** Where one is and what is at hand; kept in this browser. */
export interface Situation {
  here: "left" | "right" | "away";
  travel_min: number;
  tools: string[];
  spares: boolean;
  people: number;
  leave_out?: string[];
}

export const useTurnUps = (project: Project | undefined) =>
  useQuery({
    queryKey: ["turnup", "all", project?.id, project?.revision],
    queryFn: () => call<TurnUpsOut>(`/projects/${project?.id}/turnups`),
    enabled: project !== undefined,
    placeholderData: (before) => before,
  });

export const useTurnUp = (id: number, project: Project | undefined) =>
  useQuery({
    queryKey: ["turnup", "link", id, project?.revision],
    queryFn: () => call<TurnUpOut>(`/links/${id}/turnup`),
    enabled: Number.isFinite(id) && project !== undefined,
    placeholderData: (before) => before,
  });

/** What happened at a link is written down; all that follows from it is read again. */
export function useSay<Wish, Answer = TurnUpOut>(path: (wish: Wish) => string, method: "POST" | "PUT" = "POST") {
  const refresh = useRefresh();
  const client = useQueryClient();
  return useMutation({
    mutationFn: (wish: Wish) => call<Answer>(path(wish), method, wish),
    onSuccess: async () => {
      await reread(client, { queryKey: ["turnup"] });
      await refresh();
    },
  });
}

/** Boxes are read; the project changes only where the reading is entered in the logbook. */
export function useReadLink(id: number) {
  const client = useQueryClient();
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: { write_down?: boolean; by?: object }) =>
      call<TurnUpOut>(`/links/${id}/turnup/read`, "POST", wish),
    onSuccess: async (_, wish) => {
      await reread(client, { queryKey: ["turnup"] });
      if (wish.write_down) await refresh();
    },
  });
}

export const useDiagnosis = (id: number, project: Project | undefined, situation: Situation, enabled: boolean) =>
  useQuery({
    queryKey: ["turnup", "dark", id, project?.revision, situation],
    queryFn: () => callLive<DiagnosisOut>(`/links/${id}/diagnosis`, situation),
    enabled: enabled && project !== undefined,
    placeholderData: (before) => before,
  });

export const useBoxes = (project: Project | undefined) =>
  useQuery({
    queryKey: ["turnup", "boxes", project?.id, project?.revision],
    queryFn: () => call<BoxesOut>(`/projects/${project?.id}/boxes`),
    enabled: project !== undefined,
    placeholderData: (before) => before,
  });

export const useSetBox = (project: Project | undefined) =>
  useSay<BoxWish, BoxesOut>(() => `/projects/${project?.id}/boxes`, "PUT");

export const useConfirmBox = (project: Project | undefined) =>
  useSay<{ row: string }, BoxesOut>(
    (wish) => `/projects/${project?.id}/boxes/${encodeURIComponent(wish.row)}/confirm`,
  );

export const useSecret = (project: Project | undefined, row: string) =>
  useSay<Partial<SecretWish>, BoxesOut>(
    () => `/projects/${project?.id}/boxes/${encodeURIComponent(row)}/secret`,
    "PUT",
  );

export const useReadBoxes = (project: Project | undefined) =>
  useSay<object, BoxesOut>(() => `/projects/${project?.id}/boxes/read`);

export const useWritePort = (project: Project | undefined, row: string) =>
  useSay<object, WriteOut>(() => `/projects/${project?.id}/boxes/${encodeURIComponent(row)}/write`);

export const useNetwork = (project: Project | undefined) =>
  useQuery({
    queryKey: ["turnup", "network", project?.id, project?.revision],
    queryFn: () => call<NetworkOut>(`/projects/${project?.id}/network`),
    enabled: project !== undefined,
    placeholderData: (before) => before,
  });

export const useLogbook = (project: Project | undefined, q: string) =>
  useQuery({
    queryKey: ["turnup", "log", project?.id, project?.revision, q],
    queryFn: () => call<LogLine[]>(`/projects/${project?.id}/log?q=${encodeURIComponent(q)}`),
    enabled: project !== undefined,
    placeholderData: (before) => before,
  });

export const useHandovers = (project: Project | undefined) =>
  useQuery({
    queryKey: ["turnup", "handovers", project?.id, project?.revision],
    queryFn: () => call<HandoverOut[]>(`/projects/${project?.id}/handovers`),
    enabled: project !== undefined,
    placeholderData: (before) => before,
  });

export const useModule = (id: number) =>
  useMutation({ mutationFn: (wish: object) => call<ModuleOut>(`/links/${id}/turnup/module`, "POST", wish) });

/** An entry that was wrong is withdrawn: it stays written. */
export const useTakeBack = (project: Project | undefined) =>
  useSay<{ key: string; why: string }, unknown>((wish) => `/projects/${project?.id}/events/${wish.key}/withdraw`);
