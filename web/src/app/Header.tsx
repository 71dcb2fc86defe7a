import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { NavLink, useNavigate } from "react-router";

import type { Project } from "../shared/api";
import { Choice } from "../shared/Choice";
import { useSettings } from "../shared/settings";
import { CommandBox } from "./CommandBox";
import { KeySheet } from "./KeySheet";
import { useCommands } from "./commands";
import type { Keys } from "./useKeys";
import { VIEWS } from "./views";

interface Props {
  project: Project | undefined;
  projects: readonly Project[];
  keys: Keys;
}

/** The one line on top: which project, the views, undo and redo, find or do, units, theme, keys. */
export function Header({ project, projects, keys }: Props) {
  const { unit, setUnit, theme, setTheme, setProjectId } = useSettings();
  const navigate = useNavigate();
  return (
    <Flex as="header" align="center" gap={2} px={3} py="6px" borderBottomWidth="1px" wrap="wrap" position="relative">
      <Text fontWeight={600} fontSize="16px">
        Passerelle
      </Text>
      {projects.length > 1 && project ? (
        <Choice
          label="Project"
          value={String(project.id)}
          options={projects.map((p) => [String(p.id), p.name])}
          onChange={(id) => {
            setProjectId(Number(id));
            navigate("/links");
          }}
        />
      ) : (
        <Text color="fg.muted">{project?.name}</Text>
      )}
      <Flex as="nav" aria-label="Views" gap={0}>
        {VIEWS.map(([path, words]) => (
          <Button key={path} size="xs" variant="ghost" px={2} asChild>
            <NavLink to={path} style={({ isActive }) => ({ textDecoration: isActive ? "underline" : "none" })}>
              {words}
            </NavLink>
          </Button>
        ))}
      </Flex>
      <Button size="xs" variant="outline" onClick={keys.undo} disabled={!project?.undo_label} title={project?.undo_label ? `Undo: ${project.undo_label}` : "Nothing to undo"}>
        Undo
      </Button>
      <Button size="xs" variant="outline" onClick={keys.redo} disabled={!project?.redo_label} title={project?.redo_label ? `Redo: ${project.redo_label}` : "Nothing to redo"}>
        Redo
      </Button>
      <Text color="fg.muted" fontSize="12px" truncate flex="1" minW={0}>
        {project?.undo_label ? `last: ${project.undo_label}` : ""}
      </Text>
      <Button size="xs" variant="outline" aria-expanded={keys.box} title="Ctrl K" onClick={() => keys.setBox(!keys.box)}>
        Find or do
      </Button>
      <Flex role="group" aria-label="Unit of length">
        {(["m", "ft"] as const).map((name) => (
          <Button key={name} size="xs" variant={unit === name ? "solid" : "outline"} aria-pressed={unit === name} onClick={() => setUnit(name)}>
            {name}
          </Button>
        ))}
      </Flex>
      <Button size="xs" variant="outline" onClick={() => setTheme(theme === "dark" ? "light" : "dark")}>
        {theme === "dark" ? "Light theme" : "Dark theme"}
      </Button>
      <Button size="xs" variant="outline" aria-label="Keys" aria-expanded={keys.sheet} onClick={() => keys.setSheet(!keys.sheet)}>
        ?
      </Button>
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
