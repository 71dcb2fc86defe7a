import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import {
  type Edit,
  type Fix,
  type LinkDetail,
  type WayChoice,
  type Problem,
  type StrandTable,
  type Trial,
  ProblemError,
  type Project,
  type WhatIf,
  type WhatIfOut,
  call,
  callLive,
} from "../shared/api";
import { useRefresh } from "../shared/queries";

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
    onSuccess: (answered) => void refresh(answered, true),
    onError: (error) => {
      const current: Problem["current"] = error instanceof ProblemError ? error.problem.current : null;
      if (current) void refresh(current);
    },
  });
}

export const useWhatIf = (link: LinkDetail, wish: WhatIf) =>
  useQuery({
    queryKey: ["what-if", link.id, link.revision, wish],
    queryFn: () => callLive<WhatIfOut>(`/links/${link.id}/what-if`, wish),
    retry: false,
    placeholderData: (before) => before,
  });

/** Each face along a link and the position of each lane there. */
export const useStrands = (detail: LinkDetail) =>
  useQuery({
    queryKey: ["strand-table", detail.id, detail.revision],
    queryFn: () => call<StrandTable>(`/links/${detail.id}/strands`),
    placeholderData: (before) => before,
  });

/** The same as edits would make it, and what they do to other links on the same parts; null asks nothing. */
export const useTriedStrands = (detail: LinkDetail, fix: Fix | null) =>
  useQuery({
    queryKey: ["strand-table", detail.id, detail.revision, fix?.label],
    queryFn: () => callLive<Trial>(`/links/${detail.id}/strands`, { edits: fix?.edits }),
    enabled: fix !== null,
    retry: false,
  });

/** Where a link between two places of the plan could lie; asked for again whenever it changes. */
export const useWays = (detail: LinkDetail) =>
  useQuery({
    queryKey: ["ways", detail.id, detail.revision],
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

export function useLay(link: LinkDetail) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: { element: string; part: string; tap?: string; positions?: number[] }) =>
      call<LinkDetail>(`/links/${link.id}/lay`, "POST", { revision: link.revision, ...wish }),
    onSuccess: (answered) => refresh(answered),
  });
}

/** Make a piece of a link a shared part of the plan. */
export function useShare(link: LinkDetail) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: { element: string; name: string; count: number }) =>
      call<LinkDetail>(`/links/${link.id}/share`, "POST", { revision: link.revision, ...wish }),
    onSuccess: (answered) => refresh(answered),
  });
}

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
    onSuccess: (answered) => refresh(answered),
  });
}
