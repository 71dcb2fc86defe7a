import { useMutation, useQuery } from "@tanstack/react-query";

import {
  type BillOut,
  type DayPlan,
  type DeliveryOut,
  type DeliveryRequest,
  type LabelsOut,
  type LineRequest,
  type PanelFront,
  type PieceState,
  type Project,
  type ReelMove,
  type ReelRequest,
  type ReelsOut,
  call,
} from "../shared/api";
import { asked, useRefresh } from "../shared/queries";

type Asked = Record<string, string | readonly string[]>;

/** What follows from the links and the plan for the order; read again after any change of the project. */
const useOrder = <T>(project: Project | undefined, name: string, query: Asked = {}, enabled = true) =>
  useQuery({
    queryKey: ["order", name, project?.id, project?.revision, query],
    queryFn: () => call<T>(`/projects/${project?.id}/${name}?${asked(query)}`),
    enabled: enabled && project !== undefined,
    retry: false,
    placeholderData: (before) => before,
  });

export const useBill = (project: Project | undefined) => useOrder<BillOut>(project, "bill");
export const useReels = (project: Project | undefined) => useOrder<ReelsOut>(project, "reels");
export const useLabels = (project: Project | undefined, place: string) =>
  useOrder<LabelsOut>(project, "labels", { place });
export const usePanels = (project: Project | undefined) => useOrder<PanelFront[]>(project, "panels");
export const useDay = (project: Project | undefined, cables: readonly string[]) =>
  useOrder<DayPlan>(project, "pull-day", { cable: cables });

/** A change of the order; everything that follows from it is read again. */
function useChange<Wish, Out>(project: Project | undefined, path: string, method: "POST" | "PUT") {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (wish: Wish) => call<Out>(`/projects/${project?.id}/${path}`, method, wish),
    onSuccess: () => refresh(),
  });
}

export const useSetLine = (project: Project | undefined) =>
  useChange<LineRequest, BillOut>(project, "bill/line", "PUT");
export const usePlaceOrder = (project: Project | undefined) =>
  useChange<{ note: string; lines?: string[] }, BillOut>(project, "orders", "POST");
export const useDeliveryPreview = (project: Project | undefined) =>
  useMutation({
    mutationFn: (wish: DeliveryRequest) =>
      call<DeliveryOut>(`/projects/${project?.id}/deliveries/preview`, "POST", wish),
  });
export const useTakeDelivery = (project: Project | undefined) =>
  useChange<DeliveryRequest, DeliveryOut>(project, "deliveries", "POST");
export const useStates = (project: Project | undefined) =>
  useChange<{ keys?: string[]; links?: number[]; state: PieceState }, BillOut>(project, "states", "POST");
export const useTakeReels = (project: Project | undefined) =>
  useChange<{ line: string; anew?: boolean }, ReelsOut>(project, "reels/take", "POST");
export const useMoveCut = (project: Project | undefined) =>
  useChange<ReelMove, ReelsOut>(project, "reels/move", "POST");
export const useSetReel = (project: Project | undefined) =>
  useChange<ReelRequest, ReelsOut>(project, "reels", "PUT");
export const useGiveLabels = (project: Project | undefined) =>
  useChange<{ keys?: string[] }, LabelsOut>(project, "labels", "POST");
