import type { Catalog } from "../shared/api";
import { Choice } from "../shared/Choice";
import { type Frame, filled } from "./held";

interface Props {
  frame: Frame;
  catalog?: Catalog;
  onFit: (held: Frame["held"]) => unknown;
}

const NOTHING = "nothing";

/** Fit an adapter into every hole of a frame that is empty, or empty them all. */
export const FitHoles = ({ frame, catalog, onFit }: Props) => (
  <Choice
    label={`Fit the empty holes of ${frame.name}`}
    value=""
    options={[
      ["", "fit empty holes"],
      ...(catalog?.adapters ?? []).map(({ word }) => [word, `with ${word}`] as const),
      [NOTHING, "empty every hole"],
    ]}
    onChange={(chosen) => {
      const piece = catalog?.adapters.find(({ word }) => word === chosen)?.piece;
      if (piece) onFit(filled(frame, piece));
      if (chosen === NOTHING) onFit([]);
    }}
  />
);
