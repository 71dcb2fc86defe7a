import type { Day } from "./days";
import { dayText } from "./days";
import { Drawing, INK, LINE, MUTED, SHADE, Side, Spot } from "../draw/Drawing";
import { Fitted } from "../draw/Fitted";
import { evenScale, roundUp } from "../draw/scale";

const LEFT = 40;
const TOP = 12;
const HEIGHT = 120;
const FOOT = HEIGHT - 22;
/** So many of the newest days are drawn. */
const SHOWN = 30;
const WIDEST = 44;

/** The newest days of work as columns, oldest first: how many changes, whose hand most of them. */
export function DaysDrawing({ days }: { days: readonly Day<unknown>[] }) {
  const shown = days.slice(0, SHOWN).reverse();
  const most = roundUp(Math.max(1, ...shown.map((day) => day.entries.length)));
  const up = evenScale(0, most, FOOT, TOP, 3);
  return (
    <Fitted most={760} height={HEIGHT}>
      {(width) => {
        const part = Math.min(WIDEST, (width - LEFT - 6) / Math.max(1, shown.length));
        const every = Math.max(1, Math.ceil(46 / part));
        return (
          <Drawing
            label={`The last ${shown.length} days with changes.`}
            width={width}
            height={HEIGHT}
            testid="days-drawing"
          >
            <Side ticks={up.ticks.filter(Number.isInteger)} at={up.at} x={LEFT - 8} words={String} />
            <path d={`M${LEFT} ${FOOT}H${width - 6}`} stroke={LINE} />
            {shown.map((day, i) => {
              const x = LEFT + i * part;
              let from = 0;
              return (
                <Spot
                  key={day.day}
                  words={`${dayText(day.day)}: ${day.hands.map(([name, count]) => `${count} by ${name}`).join(", ")}`}
                >
                  {day.hands.map(([name, count], n) => {
                    const low = from;
                    from += count;
                    return (
                      <rect
                        key={name}
                        x={x + 3}
                        y={up.at(from)}
                        width={Math.max(2, part - 6)}
                        height={up.at(low) - up.at(from)}
                        fill={n === 0 ? INK : SHADE}
                        stroke={INK}
                        strokeWidth="0.8"
                      />
                    );
                  })}
                  {(shown.length - 1 - i) % every === 0 && (
                    <text x={x + part / 2} y={HEIGHT - 6} textAnchor="middle" fontSize="10.5" fill={MUTED}>
                      {day.day.slice(5)}
                    </text>
                  )}
                </Spot>
              );
            })}
          </Drawing>
        );
      }}
    </Fitted>
  );
}
