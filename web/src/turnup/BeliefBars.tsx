import { Drawing, Spot } from "../draw/Drawing";
import type { Place } from "../link/layout";
import { shareText } from "./scale";

interface Props {
  places: readonly Place[];
  names: Readonly<Record<string, string>>;
  shares: readonly { element: string; share: number }[];
  width: number;
}

const HEIGHT = 64;

/** The belief over the pieces of the chain: a bar under each piece, as high as it is believed. */
export function BeliefBars({ places, names, shares, width }: Props) {
  const at = new Map(shares.map((one) => [one.element, one.share]));
  const told = [...shares]
    .sort((a, b) => b.share - a.share)
    .slice(0, 4)
    .filter((one) => one.share > 0.005)
    .map((one) => `${names[one.element] ?? one.element} ${shareText(one.share)}`);
  return (
    <Drawing
      label={`Where the fault is believed: ${told.join(", ") || "nowhere yet"}.`}
      width={width}
      height={HEIGHT + 16}
      scrolls
    >
      {places.map((place) => {
        const share = at.get(place.id) ?? 0;
        const height = share * HEIGHT;
        return (
          <Spot key={place.id} words={`${names[place.id] ?? place.id}: ${shareText(share)}`}>
            <line
              x1={place.x + 3}
              x2={place.x + place.w - 3}
              y1={HEIGHT}
              y2={HEIGHT}
              stroke="var(--chakra-colors-border-emphasized)"
            />
            <rect
              x={place.x + 3}
              width={Math.max(0, place.w - 6)}
              y={HEIGHT - height}
              height={height}
              fill="var(--chakra-colors-fg)"
            />
            {share >= 0.02 && (
              <text
                x={place.x + place.w / 2}
                y={HEIGHT + 12}
                fontSize="11"
                textAnchor="middle"
                fill="var(--chakra-colors-fg)"
                className="figures"
              >
                {shareText(share)}
              </text>
            )}
          </Spot>
        );
      })}
    </Drawing>
  );
}
