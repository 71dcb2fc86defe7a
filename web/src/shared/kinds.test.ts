import { describe, expect, it } from "vitest";

import type { Catalog } from "./api";
import { choicesOf, kindName, learnTitles, specOf, temperatures } from "./kinds";

const jack = {
  kind: "jack",
  word: "jack",
  title: "twisted-pair module",
  drawing: "box",
  insertable: true,
  turns: false,
  joins: false,
  fields: [
    {
      name: "form",
      word: "Form",
      editor: "choice",
      choices: [
        { value: "SFP", word: "SFP" },
        { value: "SFP+", word: "SFP+" },
      ],
      shelf: "",
      unit: "",
    },
  ],
};
const catalog = {
  kinds: [jack],
  temperature_classes: [{ name: "extended", coldest_c: -20, hottest_c: 85 }],
} as unknown as Catalog;

describe("what the core says of kinds", () => {
  it("finds a kind and what may be chosen for its fields", () => {
    expect(specOf(catalog, "jack")?.title).toBe("twisted-pair module");
    expect(choicesOf(catalog, "jack", "form")).toEqual(["SFP", "SFP+"]);
  });

  it("offers nothing for a field or kind that is not there, or before the catalog is", () => {
    expect(choicesOf(catalog, "jack", "length_m")).toEqual([]);
    expect(choicesOf(undefined, "cord", "jacket")).toEqual([]);
  });

  it("words temperature classes with their range", () => {
    expect(temperatures(catalog)).toEqual([
      ["unknown", "class not known"],
      ["extended", "extended, −20 to 85 °C"],
    ]);
  });

  it("calls a kind by its title once it is known, and by its name before", () => {
    expect(kindName("jack")).toBe("jack");
    learnTitles(catalog.kinds);
    expect(kindName("jack")).toBe("twisted-pair module");
    expect(kindName("unheard of")).toBe("unheard of");
  });
});
