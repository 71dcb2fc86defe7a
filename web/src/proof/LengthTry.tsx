import { Flex } from "@chakra-ui/react";

import type { LinkDetail, TraceView } from "../shared/api";
import { lengthText } from "../shared/format";
import { useSettings } from "../shared/settings";

export interface Tried {
  element: string;
  length_m: number;
}

/** Another length of the longest piece, tried by dragging: the expected trace follows, nothing is stored. */
export function LengthTry({
  detail,
  view,
  tried,
  onTry,
}: {
  detail: LinkDetail;
  view: TraceView;
  tried: Tried | null;
  onTry: (tried: Tried) => void;
}) {
  const { unit } = useSettings();
  const inner = view.pieces.filter((piece) => piece.element !== "launch" && piece.element !== "receive");
  const longest = inner.toSorted((a, b) => b.to_m - b.from_m - (a.to_m - a.from_m))[0];
  const piece = detail.link.elements.find((e) => e.id === longest?.element);
  const planned = piece && "length_m" in piece ? piece.length_m : null;
  if (!piece || !planned) return null;
  const value = tried?.element === piece.id ? tried.length_m : planned;
  return (
    <Flex gap={2} align="center" fontSize="13px" className="no-print" mt={1}>
      <label htmlFor="tried-length">try another length</label>
      <input
        id="tried-length"
        type="range"
        min={Math.round(planned * 0.5)}
        max={Math.round(planned * 1.5)}
        step={Math.max(1, Math.round(planned / 200))}
        value={value}
        onChange={(event) => onTry({ element: piece.id, length_m: Number(event.target.value) })}
      />
      <span className="figures">{lengthText(value, unit)}</span>
    </Flex>
  );
}
