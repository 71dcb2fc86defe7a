import { useNavigate } from "react-router";

import type { Project } from "../shared/api";
import { useCatalog, useLinks } from "../shared/queries";
import { useSettings } from "../shared/settings";
import { VIEWS } from "./views";
import type { Keys } from "./useKeys";

export interface Command {
  key: string;
  kind: "view" | "link" | "do" | "catalog" | "project";
  words: string;
  act: () => void;
}

const SHOWN = 40;

/** The commands of which each typed word begins a word; those whose first word it begins come first. */
export function found(commands: readonly Command[], text: string): Command[] {
  const typed = text.toLowerCase().split(/\s+/).filter(Boolean);
  const fits = commands.filter((command) => {
    const words = command.words.toLowerCase().split(/[\s,:]+/);
    return typed.every((start) => words.some((word) => word.startsWith(start)));
  });
  const first = (command: Command) => (command.words.toLowerCase().startsWith(typed[0] ?? "") ? 0 : 1);
  return fits.toSorted((a, b) => first(a) - first(b)).slice(0, SHOWN);
}

/** All that the command box finds and does in this project. */
export function useCommands(project: Project | undefined, projects: readonly Project[], keys: Keys): Command[] {
  const navigate = useNavigate();
  const links = useLinks(project?.id).data ?? [];
  const catalog = useCatalog().data;
  const { setUnit, setTheme, openProject, theme } = useSettings();
  const doing = (words: string, act: () => void): Command => ({ key: `do ${words}`, kind: "do", words, act });
  return [
    ...VIEWS.map(([path, words]): Command => ({ key: path, kind: "view", words, act: () => navigate(path) })),
    doing("New link", () => navigate("/links?new=1")),
    ...(project?.undo ? [doing(`Undo: ${project.undo.label}`, keys.undo)] : []),
    ...(project?.redo ? [doing(`Redo: ${project.redo.label}`, keys.redo)] : []),
    doing("Lengths in metres", () => setUnit("m")),
    doing("Lengths in feet", () => setUnit("ft")),
    doing(theme === "dark" ? "Light theme" : "Dark theme", () => setTheme(theme === "dark" ? "light" : "dark")),
    doing("Print this view", () => window.print()),
    doing("Keys", () => keys.setSheet(true)),
    ...projects
      .filter((p) => p.id !== project?.id)
      .map((p): Command => ({
        key: `project ${p.id}`,
        kind: "project",
        words: `Open project ${p.name}`,
        act: () => openProject(p.id),
      })),
    ...links.map((row): Command => ({
      key: `link ${row.id}`,
      kind: "link",
      words: `${row.name}, ${row.verdict_text}`,
      act: () => navigate(`/links/${row.id}`),
    })),
    ...(catalog?.applications.map((a): Command => ({
      key: `application ${a.name}`,
      kind: "catalog",
      words: `${a.name}: figures and reach`,
      act: () => navigate(`/catalog?of=${encodeURIComponent(`application/${a.name}`)}`),
    })) ?? []),
  ];
}
