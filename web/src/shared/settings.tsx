import { createContext, useContext, useEffect, useMemo, useState } from "react";
import type { ReactNode } from "react";

export type LengthUnit = "m" | "ft";
export type Theme = "light" | "dark";

interface Settings {
  unit: LengthUnit;
  setUnit: (unit: LengthUnit) => void;
  /** What the project shows to those who have not chosen. */
  setHouseUnit: (unit: LengthUnit) => void;
  projectId: number | null;
  setProjectId: (id: number) => void;
  theme: Theme;
  setTheme: (theme: Theme) => void;
}

const Context = createContext<Settings | null>(null);

function kept<T extends string>(key: string, allowed: readonly T[], fallback: T): T {
  const value = localStorage.getItem(key);
  return allowed.find((item) => item === value) ?? fallback;
}

const preferredTheme = (): Theme => (matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light");

const keptUnit = (): LengthUnit | null => (["m", "ft"] as const).find((unit) => unit === localStorage.getItem("unit")) ?? null;
const keptNumber = (key: string): number | null => Number(localStorage.getItem(key)) || null;

/** What a person chose for this browser: project, units and theme. */
export function SettingsProvider({ children }: { children: ReactNode }) {
  const [chosenUnit, setUnit] = useState<LengthUnit | null>(() => keptUnit());
  const [houseUnit, setHouseUnit] = useState<LengthUnit>("m");
  const [projectId, setProjectId] = useState<number | null>(() => keptNumber("project"));
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
  const value = useMemo(() => ({ unit, setUnit, setHouseUnit, projectId, setProjectId, theme, setTheme }), [unit, projectId, theme]);
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

export function useSettings(): Settings {
  const settings = useContext(Context);
  if (!settings) throw new Error("useSettings stands outside SettingsProvider");
  return settings;
}
