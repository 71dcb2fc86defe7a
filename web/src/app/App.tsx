import { Flex } from "@chakra-ui/react";
import { useEffect } from "react";
import { Route, Routes, useLocation } from "react-router";

import { BackbonePage } from "../backbone/BackbonePage";
import { SplitsPage } from "../backbone/SplitsPage";
import { TrunksPage } from "../backbone/TrunksPage";
import { CatalogPage } from "../catalog/CatalogPage";
import { DropAnywhere } from "../exchange/DropAnywhere";
import { ExchangePage } from "../exchange/ExchangePage";
import { RequirementsPage } from "../exchange/RequirementsPage";
import { LadderPage } from "../ladder/LadderPage";
import { CrossingPage } from "../link/CrossingPage";
import { BillPage } from "../order/BillPage";
import { DayPage } from "../order/DayPage";
import { DeliveriesPage } from "../order/DeliveriesPage";
import { LabelsPage } from "../order/LabelsPage";
import { PanelsPage } from "../order/PanelsPage";
import { ReelsPage } from "../order/ReelsPage";
import { ProblemNote } from "../shared/ProblemNote";
import { useProject, useProjects } from "../shared/queries";
import { ReferencesPage } from "../proof/ReferencesPage";
import { TestPage } from "../proof/TestPage";
import { ReferencePage } from "../reference/ReferencePage";
import { CapacityPage } from "../site/CapacityPage";
import { ClosurePage } from "../site/ClosurePage";
import { IdentifyPage } from "../site/IdentifyPage";
import { LayoutsPage } from "../site/LayoutsPage";
import { PlacesPage } from "../site/PlacesPage";
import { PowerPage } from "../site/PowerPage";
import { PullPage } from "../site/PullPage";
import { RoutesPage } from "../site/RoutesPage";
import { ScopePage } from "../site/ScopePage";
import { SitePage } from "../site/SitePage";
import { StrandPage } from "../site/StrandPage";
import { useSettings } from "../shared/settings";
import { BoxesPage } from "../turnup/BoxesPage";
import { HandoverPage } from "../turnup/HandoverPage";
import { LogPage } from "../turnup/LogPage";
import { NetworkPage } from "../turnup/NetworkPage";
import { TurnUpLinkPage } from "../turnup/TurnUpLinkPage";
import { TurnUpPage } from "../turnup/TurnUpPage";
import { Desk, FirstLink } from "./Desk";
import { Header } from "./Header";
import { HistoryPage } from "./HistoryPage";
import { HouseRulesPage } from "./HouseRulesPage";
import { PrintHead } from "./PrintHead";
import { SkipLink } from "./SkipLink";
import { KeyPage } from "./KeyPage";
import { PageRow } from "./StageBar";
import { useKeys } from "./useKeys";

/** The frame: header, the list of links, and the link in hand. */
export function App() {
  const { pathname } = useLocation();
  const project = useProject();
  const projects = useProjects();
  const keys = useKeys(project.data?.id);
  const { setHouseUnit } = useSettings();
  const unit = project.data?.house_rules.unit;
  useEffect(() => {
    if (unit) setHouseUnit(unit);
  }, [unit, setHouseUnit]);
  return (
    <Flex direction="column" height="100%">
      <SkipLink />
      <DropAnywhere />
      <PrintHead project={project.data} />
      <Header project={project.data} projects={projects.data ?? []} keys={keys} />
      <PageRow />
      <ProblemNote error={project.error ?? keys.error} />
      <Flex flex="1" minH={0} direction={{ base: "column", md: "row" }}>
        <Routes>
          <Route path="/links/:id" element={<Desk projectId={project.data?.id} />} />
          <Route path="/ladder" element={<LadderPage project={project.data} />} />
          <Route path="/exchange" element={<ExchangePage project={project.data} />} />
          <Route path="/requirements" element={<RequirementsPage project={project.data} />} />
          <Route path="/places" element={<PlacesPage project={project.data} />} />
          <Route path="/order" element={<BillPage project={project.data} />} />
          <Route path="/order/reels" element={<ReelsPage project={project.data} />} />
          <Route path="/order/deliveries" element={<DeliveriesPage project={project.data} />} />
          <Route path="/order/day" element={<DayPage project={project.data} />} />
          <Route path="/order/labels" element={<LabelsPage project={project.data} />} />
          <Route path="/order/panels" element={<PanelsPage project={project.data} />} />
          <Route path="/k/:key" element={<KeyPage />} />
          <Route path="/site" element={<SitePage project={project.data} />} />
          <Route path="/site/backbone" element={<BackbonePage project={project.data} />} />
          <Route path="/site/trunks" element={<TrunksPage project={project.data} />} />
          <Route path="/splits" element={<SplitsPage project={project.data} />} />
          <Route path="/links/:id/crossing/:element" element={<CrossingPage />} />
          <Route path="/site/strands" element={<StrandPage project={project.data} />} />
          <Route path="/site/routes" element={<RoutesPage project={project.data} />} />
          <Route path="/site/layouts" element={<LayoutsPage project={project.data} />} />
          <Route path="/site/capacity" element={<CapacityPage project={project.data} />} />
          <Route path="/site/power" element={<PowerPage project={project.data} />} />
          <Route path="/site/closures" element={<ClosurePage project={project.data} />} />
          <Route path="/site/scope" element={<ScopePage project={project.data} />} />
          <Route path="/site/pull" element={<PullPage project={project.data} />} />
          <Route path="/identify" element={<IdentifyPage project={project.data} />} />
          <Route path="/test" element={<TestPage project={project.data} />} />
          <Route path="/test/references" element={<ReferencesPage project={project.data} />} />
          <Route path="/turnup" element={<TurnUpPage project={project.data} />} />
          <Route path="/turnup/network" element={<NetworkPage project={project.data} />} />
          <Route path="/turnup/boxes" element={<BoxesPage project={project.data} />} />
          <Route path="/turnup/log" element={<LogPage project={project.data} />} />
          <Route path="/turnup/handover" element={<HandoverPage project={project.data} />} />
          <Route path="/turnup/:id" element={<TurnUpLinkPage key={pathname} project={project.data} />} />
          <Route path="/reference" element={<ReferencePage />} />
          <Route path="/rules" element={<HouseRulesPage project={project.data} />} />
          <Route path="/catalog" element={<CatalogPage project={project.data} />} />
          <Route path="/log" element={<HistoryPage project={project.data} />} />
          <Route path="*" element={<FirstLink projectId={project.data?.id} />} />
        </Routes>
      </Flex>
    </Flex>
  );
}
