import type { Catalog, Element } from "../../shared/api";
import { LOSS_CLASSES } from "../../shared/generated/lists";
import { choicesOf } from "../../shared/kinds";
import { ChoiceField } from "./ChoiceField";
import type { SetValues } from "./values";

type Panel = Extract<Element, { kind: "panel" }>;

/** What an adapter takes, how its keys stand, what it asks for and what it may lose. */
export function PanelFields({ piece, catalog, set }: { piece: Panel; catalog?: Catalog; set: SetValues }) {
  return (
    <>
      <ChoiceField
        label="adapter"
        value={piece.shape}
        options={choicesOf(catalog, "panel", "shape")}
        onChange={(shape) => set({ shape })}
      />
      <ChoiceField
        label="keys"
        value={piece.keys ?? "aligned"}
        options={[
          ["aligned", "aligned: A meets B, 1 meets the last"],
          ["opposed", "opposed: A meets A, 1 meets 1"],
        ]}
        onChange={(keys) => set({ keys })}
      />
      <ChoiceField
        label="asks for"
        value={piece.asks_angled ? "angled" : "any"}
        options={[
          ["any", "any faces that mate"],
          ["angled", "angled faces: a provider, or video"],
        ]}
        onChange={(word) => set({ asks_angled: word === "angled" })}
      />
      <ChoiceField
        label="loss"
        value={piece.loss_class ?? "mated pair"}
        options={LOSS_CLASSES}
        onChange={(loss_class) => set({ loss_class })}
      />
    </>
  );
}
