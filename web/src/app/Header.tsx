import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Project } from "../shared/api";
import { useSettings } from "../shared/settings";
import { CommandBox } from "./CommandBox";
import { KeySheet } from "./KeySheet";
import { useCommands } from "./commands";
import type { Keys } from "./useKeys";
import { ProjectMenu } from "./ProjectMenu";
import { StageBar, StageLink } from "./StageBar";
import { REFERENCE } from "./views";

interface Props {
  project: Project | undefined;
  projects: readonly Project[];
  keys: Keys;
}

/** The one line on top: the stages of the job, the project, undo and redo, find or do, units, theme, keys. */
export function Header({ project, projects, keys }: Props) {
  const { unit, setUnit, theme, setTheme } = useSettings();
  const [menu, setMenu] = useState(false);
  const [more, setMore] = useState(false);
  return (
    <Flex
      as="header"
      className="no-print"
      align="center"
      gap={2}
      px={3}
      py="6px"
      borderBottomWidth="1px"
      wrap="wrap"
      position="relative"
    >
      <Text fontWeight={600} fontSize="16px">
        Passerelle
      </Text>
      <Box order={{ base: 1, md: 0 }} width={{ base: "100%", md: "auto" }}>
        <StageBar projectId={project?.id} />
      </Box>
      <Button
        size="xs"
        variant="outline"
        onClick={keys.undo}
        disabled={!project?.undo}
        title={project?.undo ? `Undo: ${project.undo.label}` : "Nothing to undo"}
      >
        Undo
      </Button>
      <Button
        size="xs"
        variant="outline"
        onClick={keys.redo}
        disabled={!project?.redo}
        title={project?.redo ? `Redo: ${project.redo.label}` : "Nothing to redo"}
      >
        Redo
      </Button>
      <Text color="fg.muted" fontSize="12px" truncate flex="1" minW={0} display={{ base: "none", md: "block" }}>
        {project?.undo ? `last: ${project.undo.label}` : ""}
      </Text>
      <Button
        size="xs"
        variant="outline"
        aria-label={`Project: ${project?.name ?? ""}`}
        aria-expanded={menu}
        maxW="190px"
        onClick={() => setMenu(!menu)}
      >
        <Text as="span" truncate>
          {project?.name ?? "Project"}
        </Text>{" "}
        ▾
      </Button>
      <Button
        size="xs"
        variant="outline"
        display={{ base: "inline-flex", md: "none" }}
        aria-expanded={more}
        onClick={() => setMore(!more)}
      >
        More
      </Button>
      {/* On a phone what is rare waits behind More, and is never out of reach. */}
      <Flex display={{ base: more ? "flex" : "none", md: "contents" }} gap={2} wrap="wrap" width="100%">
        <StageLink stage={REFERENCE} />
        <Button
          size="xs"
          variant="outline"
          aria-expanded={keys.box}
          title="Ctrl K"
          onClick={() => keys.setBox(!keys.box)}
        >
          Find or do
        </Button>
        <Flex role="group" aria-label="Unit of length">
          {(["m", "ft"] as const).map((name) => (
            <Button
              key={name}
              size="xs"
              variant={unit === name ? "solid" : "outline"}
              aria-pressed={unit === name}
              onClick={() => setUnit(name)}
            >
              {name}
            </Button>
          ))}
        </Flex>
        <Button size="xs" variant="outline" onClick={() => setTheme(theme === "dark" ? "light" : "dark")}>
          {theme === "dark" ? "Light theme" : "Dark theme"}
        </Button>
        <Button
          size="xs"
          variant="outline"
          aria-label="Keys"
          aria-expanded={keys.sheet}
          onClick={() => keys.setSheet(!keys.sheet)}
        >
          ?
        </Button>
      </Flex>
      {menu && <ProjectMenu project={project} projects={projects} onClose={() => setMenu(false)} />}
      {keys.box && <OpenBox project={project} projects={projects} keys={keys} />}
      {keys.sheet && (
        <Box width="100%">
          <KeySheet />
        </Box>
      )}
    </Flex>
  );
}

/** The command box with what it can find now; its lists are read only while it is open. */
function OpenBox({ project, projects, keys }: Props) {
  const commands = useCommands(project, projects, keys);
  return <CommandBox commands={commands} onClose={() => keys.setBox(false)} />;
}
