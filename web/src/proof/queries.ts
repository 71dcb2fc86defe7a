import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import {
  type CertifiedWish,
  type FaceDefect,
  type Graded,
  type InspectionWish,
  type InstrumentWish,
  type InstrumentsOut,
  type LinkDetail,
  type MeasureTrace,
  type Project,
  type ProofOut,
  type ReadingWish,
  type RecordOut,
  type ReadingsOut,
  type ReadingsRequest,
  type ReferenceSeen,
  type ReferenceWish,
  type StrandsWish,
  type TestedOut,
  type TraceView,
  call,
  callLive,
} from "../shared/api";
import { useRefresh } from "../shared/queries";
import { reread } from "../shared/reread";

const proofKey = (id: number) => ["proof", id] as const;

/** What is tested of a link and what was read. */
export const useProof = (detail: LinkDetail) =>
  useQuery({
    queryKey: [...proofKey(detail.id), detail.revision, detail.undo?.entry],
    queryFn: () => call<ProofOut>(`/links/${detail.id}/proof`),
    placeholderData: (before) => before,
  });

/** A record of a link is written down; what follows from it is read again. */
function useRecord<Wish>(detail: LinkDetail, path: string) {
  const refresh = useRefresh();
  const client = useQueryClient();
  return useMutation({
    scope: { id: `link-${detail.id}` },
    mutationFn: (wish: Wish) => call<ProofOut>(`/links/${detail.id}/${path}`, "POST", wish),
    onSuccess: async () => {
      await reread(client, { queryKey: proofKey(detail.id) });
      await refresh();
    },
  });
}

/** A reading is a change of its link: it is made from the revision that is known when it is sent. */
export function useTakeReading(detail: LinkDetail) {
  const refresh = useRefresh();
  const client = useQueryClient();
  return useMutation({
    scope: { id: `link-${detail.id}` },
    mutationFn: (wish: Omit<ReadingWish, "revision">) => {
      const known = client.getQueryData<LinkDetail>(["link", detail.id]) ?? detail;
      return call<ProofOut>(`/links/${detail.id}/readings`, "POST", { revision: known.revision, ...wish });
    },
    onSuccess: async () => {
      await reread(client, { queryKey: proofKey(detail.id) });
      await refresh();
    },
  });
}

export const useInspect = (detail: LinkDetail) => useRecord<Partial<InspectionWish>>(detail, "inspections");
export const useSeeStrands = (detail: LinkDetail) => useRecord<Partial<StrandsWish>>(detail, "strands-seen");
export const useCertify = (detail: LinkDetail) => useRecord<Partial<CertifiedWish>>(detail, "certifications");

/** What marks on a face come to; asked while they are set. */
export const useGrade = (face: string, defects: readonly FaceDefect[], enabled: boolean) =>
  useQuery({
    queryKey: ["grade", face, defects],
    queryFn: () => callLive<{ graded: Graded }>("/inspections/grade", { face, defects }),
    enabled,
    placeholderData: (before) => before,
  });

export const useTests = (project: Project | undefined) =>
  useQuery({
    queryKey: ["tests", project?.id, project?.revision],
    queryFn: () => call<TestedOut>(`/projects/${project?.id}/tests`),
    enabled: project !== undefined,
    placeholderData: (before) => before,
  });

function useProjectRecord<Wish>(project: Project | undefined, path: (wish: Wish) => string) {
  const refresh = useRefresh();
  const client = useQueryClient();
  return useMutation({
    mutationFn: (wish: Wish) => call<ReferenceSeen[]>(`/projects/${project?.id}/${path(wish)}`, "POST", wish),
    onSuccess: async () => {
      await reread(client, { queryKey: ["proof"] });
      await reread(client, { queryKey: ["tests"] });
      await refresh();
    },
  });
}

export const useTakeReference = (project: Project | undefined) =>
  useProjectRecord<Partial<ReferenceWish>>(project, () => "references");
export const useVoidReference = (project: Project | undefined) =>
  useProjectRecord<{ key: string; why: string; lost_on: string; lost_at: string | null }>(
    project,
    (wish) => `references/${wish.key}/void`,
  );
export const useWithdraw = (project: Project | undefined) =>
  useProjectRecord<{ key: string; why: string }>(project, (wish) => `events/${wish.key}/withdraw`);

export const useInstruments = (project: Project | undefined) =>
  useQuery({
    queryKey: ["instruments", project?.id, project?.revision],
    queryFn: () => call<InstrumentsOut>(`/projects/${project?.id}/instruments`),
    enabled: project !== undefined,
    placeholderData: (before) => before,
  });

export function useSetInstrument(project: Project | undefined) {
  const refresh = useRefresh();
  const client = useQueryClient();
  return useMutation({
    mutationFn: (wish: InstrumentWish) => call<InstrumentsOut>(`/projects/${project?.id}/instruments`, "PUT", wish),
    onSuccess: async () => {
      await reread(client, { queryKey: ["instruments"] });
      await refresh();
    },
  });
}

export function useConfirm(project: Project | undefined) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (row: string) =>
      call<InstrumentsOut>(`/projects/${project?.id}/instruments/${encodeURIComponent(row)}/confirm`, "POST"),
    onSuccess: () => reread(client, { queryKey: ["instruments"] }),
  });
}

export const useIdentify = (project: Project | undefined) =>
  useMutation({
    mutationFn: (row: string) =>
      call<{ maker: string; model: string; serial: string; firmware: string }>(
        `/projects/${project?.id}/instruments/${encodeURIComponent(row)}/identify`,
        "POST",
      ),
  });

export const useMeasureReference = (project: Project | undefined) =>
  useProjectRecord<object>(project, () => "references/measure");

/** A reading, taken with the source and the meter of the project. */
export function useMeasureReading(detail: LinkDetail) {
  const refresh = useRefresh();
  const client = useQueryClient();
  return useMutation({
    scope: { id: `link-${detail.id}` },
    mutationFn: (wish: Omit<ReadingWish, "revision" | "value_db">) => {
      const known = client.getQueryData<LinkDetail>(["link", detail.id]) ?? detail;
      const whole = { revision: known.revision, value_db: 0, ...wish };
      return call<ProofOut>(`/links/${detail.id}/readings/measure`, "POST", whole);
    },
    onSuccess: async () => {
      await reread(client, { queryKey: proofKey(detail.id) });
      await refresh();
    },
  });
}

export const useMeasureTrace = (detail: LinkDetail) => useRecord<Partial<MeasureTrace>>(detail, "traces/measure");
export const usePutTrace = (detail: LinkDetail) => useRecord<object>(detail, "traces");

/** A measured trace beside its plan, or the plan alone where none is chosen. */
export const useTrace = (detail: LinkDetail, key: string, plan: string) =>
  useQuery({
    queryKey: ["trace", detail.id, detail.revision, key || plan],
    queryFn: () =>
      call<TraceView>(key ? `/links/${detail.id}/traces/${key}` : `/links/${detail.id}/trace-plan?${plan}`),
    enabled: Boolean(key || plan),
    retry: false,
    placeholderData: (before) => before,
  });

/** A trace that was taken, by its key. */
export const useTraceTaken = (id: number, key: string) =>
  useQuery({
    queryKey: ["trace", id, key],
    queryFn: () => call<TraceView>(`/links/${id}/traces/${key}`),
    retry: false,
  });

export const usePicture = (detail: LinkDetail) =>
  useMutation({
    mutationFn: (wish: { piece: string; face: string }) =>
      call<{ hash: string }>(`/links/${detail.id}/inspections/picture`, "POST", wish),
  });

export const useReadingsPreview = (project: Project | undefined, wish: ReadingsRequest, enabled: boolean) =>
  useQuery({
    queryKey: ["readings-preview", project?.id, project?.revision, wish],
    queryFn: () => callLive<ReadingsOut>(`/projects/${project?.id}/readings/preview`, wish),
    enabled: enabled && project !== undefined,
    retry: false,
    placeholderData: (before) => before,
  });

export function useImportReadings(project: Project | undefined) {
  const refresh = useRefresh();
  const client = useQueryClient();
  return useMutation({
    mutationFn: (wish: ReadingsRequest) => call<ReadingsOut>(`/projects/${project?.id}/readings`, "POST", wish),
    onSuccess: async () => {
      await reread(client, { queryKey: ["proof"] });
      await reread(client, { queryKey: ["tests"] });
      await refresh();
    },
  });
}

export const useRecords = (project: Project | undefined) =>
  useQuery({
    queryKey: ["records", project?.id, project?.revision],
    queryFn: () => call<RecordOut[]>(`/projects/${project?.id}/records`),
    enabled: project !== undefined,
    placeholderData: (before) => before,
  });

/** The whole array, strand by strand through the switch. */
export function useMeasureArray(detail: LinkDetail) {
  const refresh = useRefresh();
  const client = useQueryClient();
  return useMutation({
    scope: { id: `link-${detail.id}` },
    mutationFn: (wish: object) => {
      const known = client.getQueryData<LinkDetail>(["link", detail.id]) ?? detail;
      const whole = { revision: known.revision, ...wish };
      return call<ProofOut>(`/links/${detail.id}/readings/measure-array`, "POST", whole);
    },
    onSettled: async () => {
      await reread(client, { queryKey: proofKey(detail.id) });
      await refresh();
    },
  });
}
