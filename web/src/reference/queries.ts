import { withUnit } from "../shared/format";
import type { LengthUnit } from "../shared/settings";
import { useQuery } from "@tanstack/react-query";
import { type BendLoss, call } from "../shared/api";

/** A length as it was typed, in m: the core reads it. */
export const useLength = (text: string, unit: LengthUnit) =>
  useQuery({
    queryKey: ["length", text, unit],
    queryFn: () => call<number>(`/length?text=${encodeURIComponent(withUnit(text, unit))}`),
    enabled: text !== "",
    retry: false,
  });

export const useBendLoss = (radius_mm: string) =>
  useQuery({
    queryKey: ["bend-loss", radius_mm],
    queryFn: () => call<BendLoss[]>(`/bend-loss?radius_mm=${encodeURIComponent(radius_mm)}`),
    enabled: radius_mm !== "",
    retry: false,
    placeholderData: (before) => before,
  });
