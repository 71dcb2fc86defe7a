import { Button, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useNavigate } from "react-router";

import type { Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useNewProject, useOpenPlan, useRename } from "../shared/queries";
import { useSettings } from "../shared/settings";

/** The project itself: its name, a new empty one, and a plan file opened as one of its own. */
export function ProjectSection({ project }: { project: Project }) {
  const { setProjectId } = useSettings();
  const navigate = useNavigate();
  const rename = useRename(project.id);
  const start = useNewProject();
  const open = useOpenPlan();
  const [draft, setDraft] = useState<string | null>(null);
  const name = draft ?? project.name;
  const go = {
    onSuccess: (made: Project) => {
      setProjectId(made.id);
      navigate("/links");
    },
  };
  return (
    <>
      <Heading as="h1" size="md" fontWeight={600}>
        Project
      </Heading>
      <Flex asChild gap={2} mt={1} align="center" wrap="wrap">
        <form
          onSubmit={(event) => {
            event.preventDefault();
            rename.mutate(name.trim(), { onSuccess: () => setDraft(null) });
          }}
        >
          <Input size="xs" width="220px" aria-label="Name of the project" borderColor="border.emphasized" value={name} onChange={(event) => setDraft(event.target.value)} />
          <Button size="xs" variant="outline" type="submit" disabled={!name.trim() || name.trim() === project.name}>
            Rename
          </Button>
          <Button size="xs" variant="outline" loading={start.isPending} onClick={() => start.mutate("New project", go)}>
            New empty project
          </Button>
        </form>
      </Flex>
      <Text mt={2} fontSize="13px" asChild>
        <label>
          Open a plan file as a project of its own, with its house rules, own figures, and its log where the file holds it:{" "}
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
      <ProblemNote error={rename.error ?? start.error ?? open.error} />
    </>
  );
}
