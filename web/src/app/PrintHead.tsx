import { useEffect } from "react";
import { useLocation } from "react-router";

import type { Project } from "../shared/api";
import { VIEWS } from "./views";

const quoted = (words: string) => `"${words.replace(/["\\\n]/g, " ")}"`;

/** What stands on every printed page: project, page, day and revision at its foot, with its number of all pages. */
export function PrintHead({ project }: { project: Project | undefined }) {
  const { pathname } = useLocation();
  const page = VIEWS.find(([path]) => path === pathname)?.[1] ?? "Link";
  const day = new Date().toISOString().slice(0, 10);
  const words = [project?.name, page, day, project ? `revision ${project.revision}` : ""]
    .filter(Boolean)
    .join(" · ");
  useEffect(() => {
    const sheet = document.createElement("style");
    sheet.dataset.printed = words;
    sheet.textContent = `@page { @bottom-left { content: ${quoted(words)}; } }`;
    document.head.append(sheet);
    return () => sheet.remove();
  }, [words]);
  return null;
}
