import { type ComponentType, type LazyExoticComponent, lazy } from "react";

type Pages = typeof import("./laterPages");

let coming: Promise<Pages> | undefined;
const pages = () => (coming ??= import("./laterPages"));

/** A page that comes with the others once the first view stands; pressed before that, it is waited for. */
const later = <Name extends keyof Pages>(name: Name): LazyExoticComponent<Pages[Name]> =>
  lazy(async () => ({ default: (await pages())[name] as Pages[Name] & ComponentType }));

/** Brings all later pages as soon as the first one has been drawn, so that none is waited for when it is pressed. */
export function bringPages() {
  const start = setTimeout(() => void pages(), 0);
  return () => clearTimeout(start);
}

export const BackbonePage = later("BackbonePage");
export const SplitsPage = later("SplitsPage");
export const TrunksPage = later("TrunksPage");
export const CatalogPage = later("CatalogPage");
export const ExchangePage = later("ExchangePage");
export const RequirementsPage = later("RequirementsPage");
export const BillPage = later("BillPage");
export const DayPage = later("DayPage");
export const DeliveriesPage = later("DeliveriesPage");
export const LabelsPage = later("LabelsPage");
export const PanelsPage = later("PanelsPage");
export const ReelsPage = later("ReelsPage");
export const ReferencesPage = later("ReferencesPage");
export const TestPage = later("TestPage");
export const ReferencePage = later("ReferencePage");
export const BoxesPage = later("BoxesPage");
export const HandoverPage = later("HandoverPage");
export const LogPage = later("LogPage");
export const NetworkPage = later("NetworkPage");
export const TurnUpLinkPage = later("TurnUpLinkPage");
export const TurnUpPage = later("TurnUpPage");
export const HistoryPage = later("HistoryPage");
export const HouseRulesPage = later("HouseRulesPage");
export const CapacityPage = later("CapacityPage");
export const PowerPage = later("PowerPage");
export const PullPage = later("PullPage");
export const ClosurePage = later("ClosurePage");
export const LayoutsPage = later("LayoutsPage");
export const ScopePage = later("ScopePage");
export const StrandPage = later("StrandPage");
export const IdentifyPage = later("IdentifyPage");
export const DigPage = later("DigPage");
export const CrossingPage = later("CrossingPage");
