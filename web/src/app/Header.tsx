import { Box, Button, Flex, Text } from "@chakra-ui/react";

import { useState } from "react";
import { NavLink } from "react-router";

import type { Project } from "../shared/api";
import { useSettings } from "../shared/settings";
import { HouseRulesPanel } from "./HouseRulesPanel";
import { KeySheet } from "./KeySheet";
import type { Keys } from "./useKeys";

const VIEWS = [
  ["/links", "Link"],
  ["/ladder", "Ladder"],
  ["/log", "Log"],
  ["/exchange", "In and out"],
] as const;

/** The one line on top: what this is, undo and redo, units, theme, keys. */
export function Header({ project, keys }: { project: Project | undefined; keys: Keys }) {
  const { unit, setUnit, theme, setTheme } = useSettings();
  const [rules, setRules] = useState(false);
  return (
    <Flex as="header" align="center" gap={2} px={3} py="6px" borderBottomWidth="1px" wrap="wrap">
      <Text fontWeight={600} fontSize="16px">
        Passerelle
      </Text>
      <Text color="fg.muted" mr={2}>
        {project?.name}
      </Text>
      <Flex as="nav" aria-label="Views" gap={1}>
        {VIEWS.map(([path, words]) => (
          <Button key={path} size="xs" variant="ghost" asChild>
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
      <Button size="xs" variant="outline" aria-expanded={rules} onClick={() => setRules(!rules)}>
        House rules
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
      {rules && project && <HouseRulesPanel project={project} onClose={() => setRules(false)} />}
      {keys.sheet && (
        <Box width="100%">
          <KeySheet />
        </Box>
      )}
    </Flex>
  );
}
