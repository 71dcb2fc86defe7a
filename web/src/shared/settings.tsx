import { baseOf, projectIn } from "./address";
import { createContext, useCallback, useContext, useEffect, useMemo, useState } from "react";
import type { ReactNode } from "react";

export type LengthUnit = "m" | "ft";
export type Theme = "light" | "dark";

interface Settings {
  unit: LengthUnit;
  setUnit: (unit: LengthUnit) => void;
  /** What the project shows to those who have not chosen. */
  setHouseUnit: (unit: LengthUnit) => void;
  projectId: number | null;
  /** Goes to a page of a project: the address changes with it, so that two tabs on two projects do not mix. */
  openProject: (id: number, page?: string, replace?: boolean) => void;
  theme: Theme;
  setTheme: (theme: Theme) => void;
}

const Context = createContext<Settings | null>(null);

function kept<T extends string>(key: string, allowed: readonly T[], fallback: T): T {
  const value = localStorage.getItem(key);
  return allowed.find((item) => item === value) ?? fallback;
}

const preferredTheme = (): Theme => (matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light");

const keptUnit = (): LengthUnit | null =>
  (["m", "ft"] as const).find((unit) => unit === localStorage.getItem("unit")) ?? null;
const keptNumber = (key: string): number | null => Number(localStorage.getItem(key)) || null;

/** The project that was open last in this browser, for an address that names none. */
export const rememberedProject = (): number | null => keptNumber("project");

/** What a person chose for this browser: project, units and theme. */
export function SettingsProvider({ children }: { children: ReactNode }) {
  const [chosenUnit, setUnit] = useState<LengthUnit | null>(() => keptUnit());
  const [houseUnit, setHouseUnit] = useState<LengthUnit>("m");
  const [projectId, setProjectId] = useState<number | null>(() => projectIn(window.location.pathname));
  const openProject = useCallback((id: number, page = "/links", replace = false) => {
    window.history[replace ? "replaceState" : "pushState"](null, "", `${baseOf(id)}${page}`);
    setProjectId(id);
  }, []);
  useEffect(() => {
    const back = () => setProjectId(projectIn(window.location.pathname));
    window.addEventListener("popstate", back);
    return () => window.removeEventListener("popstate", back);
  }, []);
  const unit = chosenUnit ?? houseUnit;
  const [theme, setTheme] = useState<Theme>(() => kept("theme", ["light", "dark"], preferredTheme()));
  useEffect(() => {
    if (chosenUnit) localStorage.setItem("unit", chosenUnit);
  }, [chosenUnit]);
  useEffect(() => {
    if (projectId) localStorage.setItem("project", String(projectId));
  }, [projectId]);
  useEffect(() => {
    localStorage.setItem("theme", theme);
    document.documentElement.classList.toggle("dark", theme === "dark");
    document.documentElement.classList.toggle("light", theme === "light");
    document.documentElement.style.colorScheme = theme;
  }, [theme]);
  const value = useMemo(
    () => ({ unit, setUnit, setHouseUnit, projectId, openProject, theme, setTheme }),
    [unit, projectId, openProject, theme],
  );
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

export function useSettings(): Settings {
  const settings = useContext(Context);
  if (!settings) throw new Error("useSettings stands outside SettingsProvider");
  return settings;
}
