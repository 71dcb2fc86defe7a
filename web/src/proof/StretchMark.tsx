import type { Element, ProofRow } from "../shared/api";
import type { Place } from "../link/layout";

const HEIGHT = 46;
const LINE = 20;

interface Props {
  row: ProofRow;
  elements: readonly Element[];
  places: readonly Place[];
  width: number;
}

/** What is measured where: the source and the meter at the ends of the stretch, the joints that the reading includes. */
export function StretchMark({ row, elements, places, width }: Props) {
  const at = new Map(places.map((place) => [place.id, place]));
  const first = at.get(row.start);
  const last = at.get(row.end);
  if (!first || !last) return null;
  const index = (id: string) => elements.findIndex((e) => e.id === id);
  const inside = row.should.terms.filter((one) => one.term.part !== "fiber");
  const outer = (id: string) => at.get(elements[index(id)]?.id ?? "");
  const near = outer(elements[index(row.start) - 1]?.id ?? "") ?? first;
  const far = outer(elements[index(row.end) + 1]?.id ?? "") ?? last;
  const x1 = near === first ? first.x : near.x + near.w / 2;
  const x2 = far === last ? last.x + last.w : far.x + far.w / 2;
  const [source, meter] = row.direction === "right" ? [x1, x2] : [x2, x1];
  const ends = new Set(row.should.terms.filter((one) => one.end).map((one) => one.end));
  return (
    <svg
      width={width}
      height={HEIGHT}
      role="img"
      aria-label={`Measured from ${row.start} to ${row.end}; the reading includes ${row.should.pairs_counted} mated pairs`}
      data-testid="stretch-mark"
      style={{ display: "block" }}
    >
      <line x1={x1} x2={x2} y1={LINE} y2={LINE} stroke="var(--chakra-colors-fg)" strokeWidth="2" />
      {inside.map((one, i) => {
        const place = at.get(one.term.at);
        return place ? (
          <circle key={i} cx={place.x + place.w / 2} cy={LINE} r="4" fill="var(--chakra-colors-fg)" />
        ) : null;
      })}
      {(["near", "far"] as const).map((end) =>
        ends.has(end) ? null : (
          <circle
            key={end}
            cx={end === "near" ? x1 : x2}
            cy={LINE}
            r="4"
            fill="var(--chakra-colors-bg)"
            stroke="var(--chakra-colors-fg)"
            data-testid={`left-out-${end}`}
          />
        ),
      )}
      <Instrument x={source} words="source" arrow={source < meter ? 1 : -1} />
      <Instrument x={meter} words="meter" arrow={source < meter ? 1 : -1} />
    </svg>
  );
}

/** A box on a string; the arrow says where the light goes. */
function Instrument({ x, words, arrow }: { x: number; words: string; arrow: 1 | -1 }) {
  return (
    <g transform={`translate(${x} ${LINE})`}>
      <path d={`M0 5v8`} stroke="var(--chakra-colors-fg)" />
      <rect x="-24" y="11" width="48" height="15" fill="var(--chakra-colors-bg)" stroke="var(--chakra-colors-fg)" />
      <text x="0" y="22" fontSize="11" textAnchor="middle" fill="var(--chakra-colors-fg)">
        {words}
      </text>
      {words === "source" && (
        <path
          d={`M${6 * arrow} -10h${16 * arrow}m${-5 * arrow} -3l${5 * arrow} 3l${-5 * arrow} 3`}
          fill="none"
          stroke="var(--chakra-colors-light)"
          strokeWidth="1.6"
        />
      )}
    </g>
  );
}
