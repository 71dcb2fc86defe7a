import type { Element } from "../shared/api";
import { lengthText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { GUTTER_LEFT, type Place } from "./layout";

const HEIGHT = 190;
const FLOOR = HEIGHT - 24;
const INK = "var(--chakra-colors-fg)";

/** Under a link without glass: the metres as they add up from port to port, against the reach. Same x as the pieces. */
export function LengthLens({
  elements,
  places,
  width,
  reach_m,
}: {
  elements: readonly Element[];
  places: readonly Place[];
  width: number;
  reach_m: number | null | undefined;
}) {
  const { unit } = useSettings();
  const lengths = elements.map((e) => (e.kind === "twisted" || e.kind === "assembly" ? (e.length_m ?? 0) : 0));
  const sums = lengths.map((_, i) => lengths.slice(0, i + 1).reduce((sum, one) => sum + one, 0));
  const total = sums.at(-1) ?? 0;
  const top = Math.max(total, reach_m ?? 0, 1) * 1.15;
  const y = (metres: number) => FLOOR - (metres / top) * (FLOOR - 12);
  const end = (places.at(-1)?.x ?? 0) + (places.at(-1)?.w ?? 0);
  const steps = places
    .map((place, i) => `L${place.x} ${y(sums[i]! - lengths[i]!)}L${place.x + place.w} ${y(sums[i]!)}`)
    .join("");
  return (
    <svg
      width={width}
      height={HEIGHT}
      role="img"
      aria-label={`${lengthText(total, unit)} from port to port${reach_m ? `, reach ${lengthText(reach_m, unit)}` : ""}`}
    >
      <path d={`M${GUTTER_LEFT} ${FLOOR}${steps}L${end} ${FLOOR}Z`} fill="var(--chakra-colors-bg-muted)" />
      <path d={`M${GUTTER_LEFT} ${FLOOR}${steps}`} fill="none" stroke={INK} strokeWidth="1.8" />
      <path d={`M${GUTTER_LEFT} ${FLOOR}H${end}`} stroke={INK} strokeWidth="0.8" />
      {reach_m != null && (
        <>
          <path d={`M${GUTTER_LEFT} ${y(reach_m)}H${end}`} stroke={INK} strokeDasharray="6 4" />
          <text x={GUTTER_LEFT + 4} y={y(reach_m) - 5} fontSize="12" fill={INK}>
            reaches {lengthText(reach_m, unit)}
          </text>
        </>
      )}
      {places.map((place, i) =>
        lengths[i] ? (
          <text
            key={place.id}
            x={place.x + place.w / 2}
            y={FLOOR + 16}
            fontSize="12"
            textAnchor="middle"
            fill={INK}
            className="figures"
          >
            +{lengthText(lengths[i], unit)}
          </text>
        ) : null,
      )}
      <text x={end + 6} y={y(total) + 4} fontSize="12" fill={INK} className="figures">
        {lengthText(total, unit)}
      </text>
    </svg>
  );
}
