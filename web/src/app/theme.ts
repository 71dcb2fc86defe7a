import { createSystem, defaultConfig, defineConfig } from "@chakra-ui/react";

/** Ink on paper, or paper on ink. Hue belongs to glass, jackets, connectors and light, nowhere else. */
const pair = (light: string, dark: string) => ({ value: { _light: light, _dark: dark } });

const config = defineConfig({
  globalCss: {
    "html, body, #root": { height: "100%" },
    body: { bg: "bg", color: "fg", fontSize: "14px", lineHeight: 1.4 },
    "*:focus-visible": { outline: "2px solid var(--chakra-colors-fg)", outlineOffset: "2px" },
    "input[type=checkbox], input[type=range]": { accentColor: "var(--chakra-colors-fg)" },
    ".figures": { fontFamily: "mono", fontVariantNumeric: "tabular-nums" },
  },
  theme: {
    tokens: {
      fonts: {
        body: { value: "'Atkinson Hyperlegible Next', sans-serif" },
        heading: { value: "'Atkinson Hyperlegible Next', sans-serif" },
        mono: { value: "'Atkinson Hyperlegible Mono', monospace" },
      },
      radii: { l1: { value: "2px" }, l2: { value: "3px" }, l3: { value: "4px" } },
    },
    semanticTokens: {
      colors: {
        bg: {
          DEFAULT: pair("#faf9f6", "#161615"),
          subtle: pair("#f2f1ec", "#1e1e1c"),
          muted: pair("#e6e4dd", "#2b2b28"),
          panel: pair("#ffffff", "#1b1b1a"),
        },
        fg: {
          DEFAULT: pair("#1b1b1a", "#eeece6"),
          muted: pair("#55534d", "#b3b0a7"),
          subtle: pair("#6a6861", "#98958c"),
        },
        border: { DEFAULT: pair("#cfccc3", "#3d3c38"), emphasized: pair("#8d8a80", "#7d7a72") },
        light: { DEFAULT: pair("#d23c1c", "#ff7a52"), soft: pair("#d23c1c38", "#ff7a5240") },
      },
    },
  },
});

export const system = createSystem(defaultConfig, config);
