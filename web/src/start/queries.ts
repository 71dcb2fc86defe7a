import { useMutation, useQuery } from "@tanstack/react-query";
import { type Answer, type LikeLink, type LinkDetail, type NewLink, call, callLive } from "../shared/api";
import { useRefresh } from "../shared/queries";

export function useCreateLink(projectId: number | undefined) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: NewLink) => call<LinkDetail>(`/projects/${projectId}/links`, "POST", wish),
    onSuccess: (answered) => refresh(answered),
  });
}

/** What could be built between two places; asked while the question is typed. */
export const useAnswer = (projectId: number | undefined, wish: NewLink, enabled: boolean) =>
  useQuery({
    queryKey: ["answer", projectId, wish],
    queryFn: ({ signal }) => callLive<Answer>(`/projects/${projectId}/links/answer`, wish, signal),
    enabled: enabled && projectId !== undefined,
    retry: false,
    placeholderData: (before) => before,
  });

export function useCreateLike(projectId: number | undefined) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: ({ like, wish }: { like: number; wish: LikeLink }) =>
      call<LinkDetail>(`/projects/${projectId}/links/like/${like}`, "POST", wish),
    onSuccess: (answered) => refresh(answered),
  });
}
