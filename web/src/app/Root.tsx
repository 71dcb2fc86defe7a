import { Box, Text } from "@chakra-ui/react";
import { useEffect } from "react";
import { BrowserRouter } from "react-router";

import { baseOf, pageIn } from "../shared/address";
import { ProblemNote } from "../shared/ProblemNote";
import { useProjects } from "../shared/queries";
import { rememberedProject, useSettings } from "../shared/settings";
import { useAsked } from "../shared/session";
import { App } from "./App";
import { DoubtDialog } from "./DoubtDialog";
import { PassphrasePage } from "./PassphrasePage";
import { WorkNote } from "./WorkNote";

/** Finds the project of the address, writes it there where none stands, and lets the pages route under it. */
export function Root() {
  const { projectId, openProject } = useSettings();
  const projects = useProjects();
  const known = projects.data?.some((project) => project.id === projectId) ?? false;
  const remembered = rememberedProject();
  const other = projects.data?.find((project) => project.id === remembered)?.id ?? projects.data?.[0]?.id;
  const unknown = projectId !== null && !known; // removed, or never there
  useEffect(() => {
    if (known || other === undefined) return;
    const { pathname, search } = window.location;
    openProject(other, unknown ? "/links" : `${pageIn(pathname)}${search}`, true);
  }, [known, other, unknown, openProject]);
  const asked = useAsked();
  return (
    <>
      <div style={{ display: "contents" }} inert={asked}>
        {known && projectId !== null ? (
          <BrowserRouter key={projectId} basename={baseOf(projectId)}>
            <App />
          </BrowserRouter>
        ) : (
          <Box p={6}>
            <ProblemNote error={asked ? null : projects.error} />
            {projects.isPending && <Text color="fg.muted">Reading the projects …</Text>}
          </Box>
        )}
        <WorkNote />
      </div>
      <DoubtDialog />
      {asked && <PassphrasePage />}
    </>
  );
}
