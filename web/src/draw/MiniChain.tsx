import type { Catalog, LinkRow } from "../shared/api";
import { strokesOf } from "./strokes";

/** The chain in miniature: glass in its jacket color, a cross or a tick where a finding stands. */
export function MiniChain({ pieces, catalog }: { pieces: LinkRow["pieces"]; catalog?: Catalog }) {
  const { strokes, width } = strokesOf(pieces, catalog);
  return (
    <svg viewBox={`0 0 ${width} 14`} width="100%" height="14" preserveAspectRatio="none" aria-hidden>
      {strokes.map(([paint, d]) => (
        <path key={JSON.stringify(paint)} d={d} {...paint} />
      ))}
    </svg>
  );
}
