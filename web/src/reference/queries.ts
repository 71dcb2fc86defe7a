import { useQuery } from "@tanstack/react-query";
import { type BendLoss, call } from "../shared/api";

export const useBendLoss = (radius_mm: string) =>
  useQuery({
    queryKey: ["bend-loss", radius_mm],
    queryFn: () => call<BendLoss[]>(`/bend-loss?radius_mm=${encodeURIComponent(radius_mm)}`),
    enabled: radius_mm !== "",
    retry: false,
    placeholderData: (before) => before,
  });
