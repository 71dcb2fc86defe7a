import { createContext, useContext, useEffect, useMemo, useState } from "react";
import type { ReactNode } from "react";

export type LengthUnit = "m" | "ft";
export type Theme = "light" | "dark";

interface Settings {
  unit: LengthUnit;
  setUnit: (unit: LengthUnit) => void;
  theme: Theme;
  setTheme: (theme: Theme) => void;
}

const Context = createContext<Settings | null>(null);

function kept<T extends string>(key: string, allowed: readonly T[], fallback: T): T {
  const value = localStorage.getItem(key);
  return allowed.find((item) => item === value) ?? fallback;
}

const preferredTheme = (): Theme => (matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light");

/** What a person chose for this browser: units and theme. */
export function SettingsProvider({ children }: { children: ReactNode }) {
  const [unit, setUnit] = useState<LengthUnit>(() => kept("unit", ["m", "ft"], "m"));
  const [theme, setTheme] = useState<Theme>(() => kept("theme", ["light", "dark"], preferredTheme()));
  useEffect(() => localStorage.setItem("unit", unit), [unit]);
  useEffect(() => {
    localStorage.setItem("theme", theme);
    document.documentElement.classList.toggle("dark", theme === "dark");
    document.documentElement.classList.toggle("light", theme === "light");
    document.documentElement.style.colorScheme = theme;
  }, [theme]);
  const value = useMemo(() => ({ unit, setUnit, theme, setTheme }), [unit, theme]);
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

export function useSettings(): Settings {
  const settings = useContext(Context);
  if (!settings) throw new Error("useSettings stands outside SettingsProvider");
  return settings;
}
