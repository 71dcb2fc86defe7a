import type { FeedResult } from "../shared/api";
import { lengthText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { Cross, Drawing, FAINT, Foot, INK, MUTED, SHADE, Side, Spot } from "../draw/Drawing";
import { Fitted } from "../draw/Fitted";
import { evenScale, lengthScale } from "../draw/scale";

const LEFT = 48;
const RIGHT = 92;
const TOP = 22;
const HEIGHT = 250;
const FOOT = HEIGHT - 30;

interface Props {
  rows: readonly FeedResult[];
  chosen: string;
  supply_v: number;
  length_m: number;
  needs_v: number | null;
  /** Whether a usual load was typed. */
  usual: boolean;
}

/** Voltage falling along the run to what the device needs: the chosen conductor, the others beside it. */
export function FeedDrawing(props: Props) {
  return (
    <Fitted most={820} height={HEIGHT}>
      {(width) => <Drawn {...props} width={width} />}
    </Fitted>
  );
}

function Drawn({ rows, chosen, supply_v, length_m, needs_v, usual, width }: Props & { width: number }) {
  const { unit } = useSettings();
  const ends = rows.flatMap((row) => (row.peak_v == null ? [] : [row.peak_v]));
  const low = Math.max(0, Math.min(supply_v * 0.75, needs_v ?? supply_v, ...ends) * 0.95);
  const along = lengthScale("even", [0, length_m], [LEFT, width - RIGHT], unit, width < 500 ? 3 : 6);
  const up = evenScale(low, supply_v * 1.02, FOOT - 14, TOP, 5);
  const strong = rows.find((row) => row.conductor === chosen);
  const told = strong?.peak_v == null ? "nothing arrives" : `${strong.peak_v.toFixed(1)} V arrive at the peak`;
  return (
    <Drawing
      label={`Voltage along ${lengthText(length_m, unit)} over ${chosen}: ${supply_v} V at the supply, ${told}.`}
      width={width}
      height={HEIGHT}
      testid="feed-drawing"
    >
      <Foot scale={along} y={HEIGHT - 6} top={TOP} />
      <Side ticks={up.ticks} at={up.at} x={LEFT - 8} words={(v) => `${Number(v.toFixed(2))} V`} />
      {needs_v != null && (
        <Spot words={`The device needs ${needs_v} V`}>
          <rect
            x={LEFT}
            y={up.at(needs_v)}
            width={width - RIGHT - LEFT}
            height={Math.max(0, FOOT - 14 - up.at(needs_v))}
            fill={SHADE}
          />
          <path d={`M${LEFT} ${up.at(needs_v)}H${width - RIGHT}`} stroke={INK} strokeWidth="1.4" />
          <text x={LEFT + 6} y={up.at(needs_v) + 14} fontSize="11.5">
            too low: the device needs {needs_v} V
          </text>
        </Spot>
      )}
      {rows
        .filter((row) => row.conductor !== chosen && row.peak_v != null)
        .map((row) => (
          <Spot
            key={row.conductor}
            words={`${row.conductor}: ${row.peak_v?.toFixed(1)} V at the peak, ${row.verdict}`}
          >
            <path
              d={`M${along.at(0)} ${up.at(supply_v)}L${along.at(length_m)} ${up.at(row.peak_v ?? 0)}`}
              stroke={FAINT}
              strokeWidth="1.6"
            />
          </Spot>
        ))}
      {strong && (
        <Chosen row={strong} at={along.at} up={up.at} supply_v={supply_v} length_m={length_m} usual={usual} />
      )}
      <path d={`M${LEFT} ${FOOT - 14}H${width - RIGHT}`} stroke={MUTED} />
    </Drawing>
  );
}

interface ChosenProps {
  row: FeedResult;
  at: (m: number) => number;
  up: (v: number) => number;
  supply_v: number;
  length_m: number;
  usual: boolean;
}

/** The chosen conductor: at the peak, and at the usual load beside it. */
function Chosen({ row, at, up, supply_v, length_m, usual }: ChosenProps) {
  const end = at(length_m);
  if (row.peak_v == null)
    return (
      <Spot words={`${row.conductor}: ${row.why}`} strong>
        <path d={`M${at(0)} ${up(supply_v)}L${(at(0) + end) / 2} ${FOOT - 14}`} stroke={INK} strokeWidth="2.4" />
        <Cross x={(at(0) + end) / 2} y={FOOT - 14} size={6} />
        <text x={(at(0) + end) / 2 + 14} y={FOOT - 24}>
          nothing stable arrives
        </text>
      </Spot>
    );
  const peak = up(row.peak_v);
  const held = usual && row.typical_v != null ? up(row.typical_v) : null;
  return (
    <>
      {held !== null && row.typical_v != null && (
        <Spot words={`Usually ${row.typical_v.toFixed(1)} V arrive`}>
          <path
            d={`M${at(0)} ${up(supply_v)}L${end} ${held}`}
            stroke={INK}
            strokeWidth="1.4"
            strokeDasharray="5 4"
          />
          <text x={end + 8} y={Math.min(held + 4, peak - 10)} className="figures">
            {row.typical_v.toFixed(1)} V usually
          </text>
        </Spot>
      )}
      <Spot words={`At the peak ${row.peak_v.toFixed(1)} V arrive: ${row.verdict}. ${row.why}`} strong>
        <path d={`M${at(0)} ${up(supply_v)}L${end} ${peak}`} stroke={INK} strokeWidth="2.6" />
        {row.verdict === "fail" ? (
          <Cross x={end} y={peak} size={6} />
        ) : (
          <circle
            cx={end}
            cy={peak}
            r="4.5"
            fill={row.verdict === "pass" ? INK : "var(--chakra-colors-bg)"}
            stroke={INK}
            strokeWidth="1.6"
          />
        )}
        <text x={end + 8} y={peak + 4} className="figures">
          {row.peak_v.toFixed(1)} V
        </text>
        <text x={end + 8} y={peak + 18} fontSize="11" fontWeight="400">
          at the peak
        </text>
      </Spot>
    </>
  );
}
