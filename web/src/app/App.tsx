import { Box, Flex } from "@chakra-ui/react";
import { Suspense, useEffect } from "react";
import { Route, Routes, useLocation } from "react-router";

import { DropAnywhere } from "../exchange/DropAnywhere";
import { LadderPage } from "../ladder/LadderPage";
import { ProblemNote } from "../shared/ProblemNote";
import { useProject, useProjects } from "../shared/queries";
import { PlacesPage } from "../site/PlacesPage";
import { RoutesPage } from "../site/RoutesPage";
import { SitePage } from "../site/SitePage";
import { useSettings } from "../shared/settings";
import * as Later from "./later";
import { Desk, FirstLink } from "./Desk";
import { Header } from "./Header";
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
  useEffect(() => Later.bringPages(), []);
  return (
    <Flex direction="column" height="100%">
      <SkipLink />
      <DropAnywhere />
      <PrintHead project={project.data} />
      <Header project={project.data} projects={projects.data ?? []} keys={keys} />
      <PageRow />
      <ProblemNote error={project.error ?? keys.error} />
      <Flex flex="1" minH={0} direction={{ base: "column", md: "row" }}>
        <Suspense fallback={<Box as="main" flex="1" />}>
          <Routes>
            <Route path="/links/:id" element={<Desk projectId={project.data?.id} />} />
            <Route path="/ladder" element={<LadderPage project={project.data} />} />
            <Route path="/exchange" element={<Later.ExchangePage project={project.data} />} />
            <Route path="/requirements" element={<Later.RequirementsPage project={project.data} />} />
            <Route path="/places" element={<PlacesPage project={project.data} />} />
            <Route path="/order" element={<Later.BillPage project={project.data} />} />
            <Route path="/order/reels" element={<Later.ReelsPage project={project.data} />} />
            <Route path="/order/deliveries" element={<Later.DeliveriesPage project={project.data} />} />
            <Route path="/order/day" element={<Later.DayPage project={project.data} />} />
            <Route path="/order/labels" element={<Later.LabelsPage project={project.data} />} />
            <Route path="/order/panels" element={<Later.PanelsPage project={project.data} />} />
            <Route path="/k/:key" element={<KeyPage />} />
            <Route path="/site" element={<SitePage project={project.data} />} />
            <Route path="/site/backbone" element={<Later.BackbonePage project={project.data} />} />
            <Route path="/site/trunks" element={<Later.TrunksPage project={project.data} />} />
            <Route path="/splits" element={<Later.SplitsPage project={project.data} />} />
            <Route path="/links/:id/dig/:event" element={<Later.DigPage />} />
            <Route path="/links/:id/crossing/:element" element={<Later.CrossingPage />} />
            <Route path="/site/strands" element={<Later.StrandPage project={project.data} />} />
            <Route path="/site/routes" element={<RoutesPage project={project.data} />} />
            <Route path="/site/layouts" element={<Later.LayoutsPage project={project.data} />} />
            <Route path="/site/capacity" element={<Later.CapacityPage project={project.data} />} />
            <Route path="/site/power" element={<Later.PowerPage project={project.data} />} />
            <Route path="/site/closures" element={<Later.ClosurePage project={project.data} />} />
            <Route path="/site/scope" element={<Later.ScopePage project={project.data} />} />
            <Route path="/site/pull" element={<Later.PullPage project={project.data} />} />
            <Route path="/identify" element={<Later.IdentifyPage project={project.data} />} />
            <Route path="/test" element={<Later.TestPage project={project.data} />} />
            <Route path="/test/references" element={<Later.ReferencesPage project={project.data} />} />
            <Route path="/turnup" element={<Later.TurnUpPage project={project.data} />} />
            <Route path="/turnup/network" element={<Later.NetworkPage project={project.data} />} />
            <Route path="/turnup/boxes" element={<Later.BoxesPage project={project.data} />} />
            <Route path="/turnup/log" element={<Later.LogPage project={project.data} />} />
            <Route path="/turnup/handover" element={<Later.HandoverPage project={project.data} />} />
            <Route path="/turnup/:id" element={<Later.TurnUpLinkPage key={pathname} project={project.data} />} />
            <Route path="/reference" element={<Later.ReferencePage />} />
            <Route path="/rules" element={<Later.HouseRulesPage project={project.data} />} />
            <Route path="/catalog" element={<Later.CatalogPage project={project.data} />} />
            <Route path="/log" element={<Later.HistoryPage project={project.data} />} />
            <Route path="*" element={<FirstLink projectId={project.data?.id} />} />
          </Routes>
        </Suspense>
      </Flex>
    </Flex>
  );
}
