import { useQuery } from "@tanstack/react-query";

import { type BuiltPiece, type LinkDetail, type Schools, call } from "../../shared/api";

/** The link as it is built; read again when the link or its plan changes. */
export const useBuild = (detail: LinkDetail) =>
  useQuery({
    queryKey: ["link", detail.id, "build", detail.revision],
    queryFn: () => call<{ pieces: BuiltPiece[] }>(`/links/${detail.id}/build`),
    placeholderData: (before) => before,
  });

export const useSchools = (detail: LinkDetail) =>
  useQuery({
    queryKey: ["link", detail.id, "schools", detail.revision],
    queryFn: () => call<Schools>(`/links/${detail.id}/schools`),
    placeholderData: (before) => before,
  });
