import type { PullSheet } from "../shared/api";
import { lengthText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { Cross, Drawing, Foot, INK, LINE, MUTED, PAPER, SHADE, Side, Spot } from "../draw/Drawing";
import { Fitted } from "../draw/Fitted";
import { apart, cutTo, evenScale, lengthScale, roundUp } from "../draw/scale";
import { tensionLine } from "./pullLines";

const LEFT = 58;
const RIGHT = 18;
const TOP = 20;
const CHART = 190;
const WAY = 62;
const AREA = 46;
const HEIGHT = TOP + CHART + WAY + AREA + 34;

/** The way of a pull to scale: tension rising along it from both ends, the limit as a line, bends and pull points where they are. */
export function PullDrawing({ sheet, force }: { sheet: PullSheet; force: (newton: number) => string }) {
  return (
    <Fitted most={940} height={HEIGHT}>
      {(width) => <Drawn sheet={sheet} force={force} width={width} />}
    </Fitted>
  );
}

type Sheet = Required<Pick<PullSheet, "stretches" | "points" | "ducts">> & PullSheet;

function Drawn({
  sheet: given,
  force,
  width,
}: {
  sheet: PullSheet;
  force: (newton: number) => string;
  width: number;
}) {
  const { unit } = useSettings();
  const sheet: Sheet = {
    ...given,
    stretches: given.stretches ?? [],
    points: given.points ?? [],
    ducts: given.ducts ?? [],
  };
  const whole = Math.max(1, sheet.ducts.at(-1)?.to_m ?? 1);
  const along = lengthScale("even", [0, whole], [LEFT, width - RIGHT], unit, width < 500 ? 3 : 6);
  const rated = sheet.rated_tension_n;
  const most = Math.max(...sheet.pulls.map((pull) => pull.tension_n), 1);
  const top = roundUp(rated != null && rated < most * 3 ? Math.max(most, rated) * 1.05 : most * 1.15);
  const up = evenScale(0, top, TOP + CHART, TOP, 5);
  const way = TOP + CHART + 24;
  return (
    <Drawing
      label={`The way of ${sheet.name} to scale, ${lengthText(whole, unit)}, with the tension along it.`}
      width={width}
      height={HEIGHT}
      testid="pull-drawing"
    >
      <Foot scale={along} y={HEIGHT - 4} top={TOP} />
      <Side ticks={up.ticks} at={up.at} x={LEFT - 8} words={force} />
      {sheet.pulls.map((pull, i) => {
        const line = tensionLine(sheet.stretches, pull);
        const last = line.at(-1);
        const from = pull.direction === "forwards" ? sheet.places[0] : sheet.places.at(-1);
        return (
          <Spot
            key={pull.direction}
            words={`Fed at ${from}: ${force(pull.tension_n)} at the far end`}
            strong={i === 0}
          >
            <path
              d={line.map(([m, n], k) => `${k ? "L" : "M"}${along.at(m)} ${up.at(n)}`).join("")}
              fill="none"
              stroke={i === 0 ? INK : MUTED}
              strokeWidth={i === 0 ? 2.4 : 1.4}
              strokeDasharray={i === 0 ? undefined : "5 4"}
            />
            {last && (
              <text
                x={along.at(last[0]) + (pull.direction === "forwards" ? -6 : 6)}
                y={up.at(last[1]) - 6}
                textAnchor={pull.direction === "forwards" ? "end" : "start"}
                fontWeight={i === 0 ? 600 : 400}
              >
                {`${i === 0 ? "fed" : "or fed"} at ${cutTo(from ?? "", width < 500 ? 12 : 30)}: ${force(pull.tension_n)}`}
              </text>
            )}
          </Spot>
        );
      })}
      <Rated rated={rated} top={top} at={up.at} from={LEFT} to={width - RIGHT} force={force} />
      <Bends sheet={sheet} at={along.at} y={way} force={force} />
      <path d={`M${LEFT} ${way}H${width - RIGHT}`} stroke={INK} strokeWidth="3" />
      <Points sheet={sheet} at={along.at} y={way} width={width} />
      <Areas sheet={sheet} at={along.at} y={way + WAY - 24} />
    </Drawing>
  );
}

interface RatedProps {
  rated: number | null | undefined;
  top: number;
  at: (newton: number) => number;
  from: number;
  to: number;
  force: (newton: number) => string;
}

/** The rated tension of the weakest cable as a line; above the drawing where it is far beyond all tension. */
function Rated({ rated, top, at, from, to, force }: RatedProps) {
  if (rated == null)
    return (
      <text x={from + 6} y={TOP - 6} fill={MUTED}>
        rated tension not known: no limit is drawn
      </text>
    );
  const inside = rated <= top;
  const y = inside ? at(rated) : TOP - 2;
  return (
    <Spot words={`Rated for ${force(rated)}${inside ? "" : ", far above all of it"}`}>
      <path d={`M${from} ${y}H${to}`} stroke={INK} strokeWidth="1.4" strokeDasharray={inside ? undefined : "1 4"} />
      <text x={to} y={y - 5} textAnchor="end">
        {inside ? `rated ${force(rated)}` : `rated ${force(rated)}, above this drawing`}
      </text>
    </Spot>
  );
}

interface AlongProps {
  sheet: Sheet;
  at: (m: number) => number;
  y: number;
}

/** Each bend where it is, with its angle, and the pressure of the easier pull on its side. */
function Bends({ sheet, at, y, force }: AlongProps & { force: (newton: number) => string }) {
  const most = sheet.most_sidewall_n_per_m;
  const [easy] = sheet.pulls;
  const bends = sheet.stretches.flatMap((stretch, i) => (stretch.bend_deg ? [i] : []));
  const named = new Set(
    apart(
      bends.map((i) => at(sheet.stretches[i]?.to_m ?? 0)),
      26,
    ).map((n) => bends[n]),
  );
  return sheet.stretches.map((stretch, i) => {
    if (!stretch.bend_deg) return null;
    const pressure = easy?.steps.find((step) => step.section === i)?.sidewall_n_per_m ?? 0;
    const over = most != null && pressure > most;
    const x = at(stretch.to_m);
    const held = most == null ? "" : `, at most ${force(most)} a metre`;
    return (
      <Spot key={i} words={`Bend of ${stretch.bend_deg}°: ${force(pressure)} a metre on its side${held}`}>
        <path d={`M${x - 6} ${y}q6 0 6 -9`} fill="none" stroke={INK} strokeWidth="2.4" />
        {named.has(i) && (
          <text x={x} y={y - 12} textAnchor="middle" fontSize="10.5" className="figures">
            {`${stretch.bend_deg}°`}
          </text>
        )}
        {over && <Cross x={x} y={y} />}
      </Spot>
    );
  });
}

/** Places and pull points under the way; names that would touch are left to the words of their spots. */
function Points({ sheet, at, y, width }: AlongProps & { width: number }) {
  const last = sheet.points.length - 1;
  const most = Math.max(8, Math.floor(width / 20));
  const named = new Set(
    apart(
      sheet.points.map((point) => at(point.at_m)),
      most * 6,
    ),
  );
  return sheet.points.map((point, i) => {
    const x = at(point.at_m);
    return (
      <Spot key={`${point.name} ${i}`} words={`${point.name}${point.place ? "" : ", where it can be taken out"}`}>
        {point.place ? (
          <rect x={x - 4} y={y - 4} width="8" height="8" fill={PAPER} stroke={INK} strokeWidth="1.6" />
        ) : (
          <path d={`M${x} ${y - 8}V${y + 8}`} stroke={INK} strokeWidth="1.6" />
        )}
        {named.has(i) && (
          <text x={x} y={y + 20} textAnchor={i === 0 ? "start" : i === last ? "end" : "middle"} fontSize="11.5">
            {cutTo(point.name, most)}
          </text>
        )}
      </Spot>
    );
  });
}

/** Each way as a strip of its bore's area: the cables in it, what is pulled now, and the limit of its fill. */
function Areas({ sheet, at, y }: AlongProps) {
  return sheet.ducts.map((duct) => {
    const from = at(duct.from_m) + 1;
    const wide = Math.max(3, at(duct.to_m) - at(duct.from_m) - 2);
    const high = AREA - 20;
    const fill = duct.fill;
    let used = 0;
    const told = fill
      ? `${Math.round(fill.share * 100)} % full of at most ${Math.round(fill.limit * 100)} %`
      : "its bore, or a diameter in it, is not known: no fill";
    return (
      <Spot key={duct.way} words={`${duct.name}: ${told}; ${duct.stripes.map((one) => one.name).join(", ")}`}>
        <text x={from} y={y} fontSize="10.5" fill={MUTED}>
          {cutTo(`${duct.name}${fill ? `, ${Math.round(fill.share * 100)} %` : ""}`, Math.floor(wide / 5.4))}
        </text>
        <rect x={from} y={y + 5} width={wide} height={high} fill={PAPER} stroke={LINE} />
        {duct.stripes.map((stripe) => {
          const h = fill ? Math.max(1.2, stripe.share * high) : 0;
          used += h;
          return (
            <rect
              key={stripe.name}
              x={from}
              y={y + 5 + high - used}
              width={wide}
              height={Math.max(0, h - 0.5)}
              fill={stripe.pulled ? INK : SHADE}
              stroke={LINE}
              strokeWidth="0.4"
            />
          );
        })}
        {fill && (
          <path
            d={`M${from} ${y + 5 + high - fill.limit * high}h${wide}`}
            stroke={INK}
            strokeWidth="1.2"
            strokeDasharray="4 3"
          />
        )}
        {fill && fill.share > fill.limit && <Cross x={from + wide / 2} y={y + 5 + high / 2} />}
      </Spot>
    );
  });
}
