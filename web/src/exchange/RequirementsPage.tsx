import { Box } from "@chakra-ui/react";

import type { Project } from "../shared/api";
import { RequirementSection } from "./RequirementSection";

/** What is wanted: the table of requirements, answered line by line. */
export const RequirementsPage = ({ project }: { project: Project | undefined }) => (
  <Box as="main" flex="1" minW={0} overflowY="auto" px={4} py={3} maxW="1000px">
    {project && <RequirementSection key={project.id} projectId={project.id} />}
  </Box>
);
