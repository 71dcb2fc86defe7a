import { useMutation, useQuery } from "@tanstack/react-query";
import { type BulkOut, type BulkRequest, call, callLive } from "../shared/api";
import { useRefresh } from "../shared/queries";

/** What one change of many links would do; asked before it is made. */
export const useBulkPreview = (projectId: number, wish: BulkRequest, enabled: boolean) =>
  useQuery({
    queryKey: ["bulk-preview", projectId, wish],
    queryFn: () => callLive<BulkOut>(`/projects/${projectId}/bulk/preview`, wish),
    enabled,
  });

export function useBulk(projectId: number) {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: BulkRequest) => call<BulkOut>(`/projects/${projectId}/bulk`, "POST", wish),
    onSuccess: () => refresh(),
  });
}
