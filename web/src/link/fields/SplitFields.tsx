import { asTyped } from "../../shared/doubt";
import type { Catalog, Element } from "../../shared/api";
import { ChoiceField } from "./ChoiceField";
import { TypedField } from "./TypedField";
import type { SetValues } from "./values";

type Module = Extract<Element, { kind: "module" }>;

/** Into how many slower ports a module's port is split, and which leg this link is; nothing where it is not split. */
export function SplitFields({ piece, catalog, set }: { piece: Module; catalog?: Catalog; set: SetValues }) {
  const splits = catalog?.applications.find((one) => one.name === piece.application)?.splits ?? [];
  if (splits.length === 0) return null;
  const legs = piece.legs ?? 1;
  return (
    <>
      <ChoiceField
        label="split into"
        value={String(legs)}
        options={[
          ["1", "one whole port"],
          ...splits.map((one) => [String(one.legs), `${one.legs} legs, each to ${one.speaks}`] as const),
        ]}
        onChange={(count) => set({ legs: Number(count), leg: 0 })}
      />
      {legs > 1 && (
        <ChoiceField
          label="leg"
          value={String(piece.leg ?? 0)}
          options={[
            ["0", "whichever the cord brings"],
            ...Array.from({ length: legs }, (_, i) => [String(i + 1), `leg ${i + 1}`] as const),
          ]}
          onChange={(leg) => set({ leg: Number(leg) })}
        />
      )}
      {legs > 1 && (
        <>
          <ChoiceField
            label="legs sold for"
            value={piece.sold_for ?? ""}
            options={[
              ["", "not known"],
              ...splits.filter((one) => one.legs === legs).map((one) => [one.speaks, one.speaks] as const),
            ]}
            onChange={(name) => set({ sold_for: name })}
          />
          <TypedField
            label="lane maximum, dBm"
            value={piece.lane_max_dbm == null ? "" : String(piece.lane_max_dbm)}
            placeholder="from its datasheet"
            onCommit={(text) => set({ lane_max_dbm: asTyped(text) })}
          />
        </>
      )}
    </>
  );
}
