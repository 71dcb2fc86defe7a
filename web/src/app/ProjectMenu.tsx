import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { NavLink } from "react-router";

import type { Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useNewProject, useOpenPlan } from "./queries";
import { useSettings } from "../shared/settings";
import { ProjectLine, RemovedProjects } from "./ProjectLines";
import { PROJECT } from "./views";
import { WhoField } from "./WhoField";

interface Props {
  project: Project | undefined;
  projects: readonly Project[];
  onClose: () => void;
}

/** All that is done with a project as a whole: open, begin, name, copy, remove, bring back; and its own pages. */
export function ProjectMenu({ project, projects, onClose }: Props) {
  const { openProject } = useSettings();
  const start = useNewProject();
  const open = useOpenPlan();
  const go = {
    onSuccess: (made: Project) => {
      openProject(made.id);
      onClose();
    },
  };
  return (
    <Box as="section" aria-label="Project" width="100%" borderTopWidth="1px" pt={2} fontSize="13px">
      <Flex gap={1} wrap="wrap" mb={2}>
        {PROJECT.pages.map(([path, words]) => (
          <Button key={path} size="xs" variant="outline" asChild>
            <NavLink to={path} onClick={onClose}>
              {words}
            </NavLink>
          </Button>
        ))}
        <Button size="xs" loading={start.isPending} onClick={() => start.mutate("New project", go)}>
          New empty project
        </Button>
      </Flex>
      <WhoField />
      <Heading as="h2" size="sm" fontWeight={600}>
        Projects
      </Heading>
      {projects.map((one) => (
        <ProjectLine
          key={one.id}
          one={one}
          here={one.id === project?.id}
          last={projects.length === 1}
          onOpen={() => {
            openProject(one.id);
            onClose();
          }}
        />
      ))}
      <RemovedProjects />
      <Text mt={2} asChild>
        <label>
          Open a plan file as a project of its own, with its house rules, own figures, and its log where the file
          holds it:{" "}
          <input
            type="file"
            accept=".json,application/json"
            aria-label="Plan file to open"
            onChange={(event) => {
              const file = event.target.files?.[0];
              if (file) void file.text().then((text) => open.mutate(text, go));
            }}
          />
        </label>
      </Text>
      <ProblemNote error={start.error ?? open.error} />
    </Box>
  );
}
