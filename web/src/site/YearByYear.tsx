import type { Capacity } from "../shared/api";
import { Cross, Drawing, INK, LINE, MUTED, PAPER, SHADE, Side, Spot } from "../draw/Drawing";
import { Fitted } from "../draw/Fitted";
import { evenScale, roundUp } from "../draw/scale";

const LEFT = 40;
const TOP = 22;
const HEIGHT = 190;
const FOOT = HEIGHT - 22;
/** Beyond so many columns only some years are named. */
const NAMED = 12;

type Cable = Capacity["cables"][number];

/** One cable year by year: what is used and promised grows, the strands that live are the line that it meets. */
export function YearByYear({ cable, growth }: { cable: Cable; growth: number }) {
  const years = cable.by_year ?? [];
  const living = cable.strands - cable.dead;
  const top = roundUp(Math.max(living, ...years) * 1.05);
  const up = evenScale(0, top, FOOT, TOP, 4);
  const full = years.findIndex((needed) => needed > living);
  const ends =
    full < 0
      ? `enough for all ${years.length - 1} years`
      : full === 0
        ? "too few today"
        : `too few from year ${full}`;
  return (
    <Fitted most={720} height={HEIGHT}>
      {(width) => {
        const part = (width - LEFT - 8) / Math.max(1, years.length);
        const every = Math.ceil(years.length / (width < 500 ? 6 : NAMED));
        return (
          <Drawing
            label={`${cable.name} year by year at ${growth} % a year: ${living} strands live, ${ends}.`}
            width={width}
            height={HEIGHT}
            testid="year-by-year"
          >
            <Side ticks={up.ticks} at={up.at} x={LEFT - 8} words={String} />
            {years.map((needed, year) => {
              const x = LEFT + year * part;
              const now = Math.min(cable.used, needed);
              const y = up.at(needed);
              const short = needed > living;
              return (
                <Spot
                  key={year}
                  words={`${year === 0 ? "Now" : `In ${year} years`}: ${needed} strands needed of ${living}${short ? ", too few" : ""}`}
                >
                  <rect
                    x={x + 2}
                    y={y}
                    width={Math.max(1, part - 4)}
                    height={FOOT - y}
                    fill={SHADE}
                    stroke={LINE}
                  />
                  {year === 0 && (
                    <rect
                      x={x + 2}
                      y={up.at(now)}
                      width={Math.max(1, part - 4)}
                      height={FOOT - up.at(now)}
                      fill={INK}
                    />
                  )}
                  {short && (
                    <>
                      <rect
                        x={x + 2}
                        y={y}
                        width={Math.max(1, part - 4)}
                        height={Math.max(0, up.at(living) - y)}
                        fill={PAPER}
                        stroke={INK}
                        strokeDasharray="2 2"
                      />
                      {year === full && <Cross x={x + part / 2} y={up.at(living)} />}
                    </>
                  )}
                  {year % every === 0 && (
                    <text x={x + part / 2} y={HEIGHT - 6} textAnchor="middle" fontSize="10.5" fill={MUTED}>
                      {year === 0 ? "now" : `+${year}`}
                    </text>
                  )}
                </Spot>
              );
            })}
            <path d={`M${LEFT} ${up.at(living)}H${width - 8}`} stroke={INK} strokeWidth="1.6" />
            <text x={width - 10} y={up.at(living) - 5} textAnchor="end">
              {living} strands live; {ends}
            </text>
          </Drawing>
        );
      }}
    </Fitted>
  );
}
