import { walk } from "../draw/Drawing";
import type { Catalog, PlantOut } from "../shared/api";
import { jacketColor } from "../shared/colors";
import { lengthText } from "../shared/format";
import { useSettings } from "../shared/settings";

type Strip = PlantOut["strips"]["strips"][number];
type Way = NonNullable<PlantOut["plant"]["ways"]>[number];

const ROW = 52;
const LEFT = 130;
const RIGHT = 170;
const BAR = 16;

interface Props {
  plant: PlantOut;
  catalog?: Catalog;
  chosen: string | null;
  lit: ReadonlySet<string>;
  /** Names of links by number. */
  links: ReadonlyMap<number, string>;
  onChoose: (way: string) => void;
}

/** The ways as strips in the order in which they follow each other; the cables in a way are the stripes in its strip. */
export function StripPlan({ plant, catalog, chosen, lit, links, onChoose }: Props) {
  const { unit } = useSettings();
  const plan = plant.strips;
  const names = new Map((plant.plant.places ?? []).map((place) => [place.id, place.name]));
  const ways = new Map((plant.plant.ways ?? []).map((way) => [way.id, way]));
  const y = (row: number) => 26 + row * ROW;
  return (
    <svg
      width={LEFT + plan.width + RIGHT}
      height={plan.rows * ROW + 10}
      role="group"
      aria-label="Strip plan of the ways"
      onKeyDown={walk}
      style={{ fontSize: 12 }}
      fill="var(--chakra-colors-fg)"
    >
      {plan.roots.map((root) => (
        <text key={root.place} x={LEFT - 8} y={y(root.row) + 12} textAnchor="end" fontWeight={600}>
          {names.get(root.place) ?? root.place}
        </text>
      ))}
      {plan.strips.map(
        (strip) =>
          strip.branches_from !== null && (
            <path
              key={strip.way}
              d={`M${LEFT + strip.x} ${y(strip.branches_from) + BAR}V${y(strip.row)}`}
              stroke="var(--chakra-colors-border-emphasized)"
              strokeWidth="1"
              fill="none"
            />
          ),
      )}
      {plan.strips.map((strip) => {
        const way = ways.get(strip.way);
        if (!way) return null;
        const end = names.get(strip.end) ?? strip.end;
        return (
          <g key={strip.way}>
            <WayStrip
              plant={plant}
              strip={strip}
              way={way}
              x={LEFT + strip.x}
              y={y(strip.row)}
              catalog={catalog}
              chosen={chosen === strip.way}
              lit={lit.has(strip.way)}
              names={links}
              onChoose={onChoose}
              length={lengthText(way.length_m, unit)}
              through={strip.last ? "" : end}
            />
            {strip.last && (
              <text x={LEFT + strip.x + strip.width + 8} y={y(strip.row) + 12} fontWeight={strip.meets ? 400 : 600}>
                {strip.meets ? `meets ${end}` : end}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}

const CHARACTER = 5.7;
const shortened = (text: string, width: number) =>
  text.length * CHARACTER > width ? `${text.slice(0, Math.max(3, Math.floor(width / CHARACTER) - 1))}…` : text;

interface StripProps {
  plant: PlantOut;
  strip: Strip;
  way: Way;
  x: number;
  y: number;
  catalog?: Catalog;
  chosen: boolean;
  lit: boolean;
  length: string;
  /** The place at its end, where the row goes on. */
  through: string;
  names: ReadonlyMap<number, string>;
  onChoose: (way: string) => void;
}

function WayStrip({ plant, strip, way, x, y, catalog, chosen, lit, length, through, names, onChoose }: StripProps) {
  const { width } = strip;
  const row = plant.ways.find((one) => one.id === way.id);
  const cables = (plant.plant.cables ?? []).filter((cable) => row?.cables.includes(cable.id));
  const heights = cables.map((cable) =>
    way.bore_mm && cable.diameter_mm
      ? Math.max(2.5, ((cable.diameter_mm ?? 0) / way.bore_mm) ** 2 * BAR)
      : Math.min(3, BAR / cables.length),
  );
  const over = row?.fill && row.fill.share > row.fill.limit;
  const riding = plant.paths
    .filter((path) => path.ways.includes(way.id))
    .map((path) => names.get(path.link) ?? `link ${path.link}`);
  const told = `${way.name}, ${length}, ${cables.length} cables${row?.fill ? `, ${Math.round(row.fill.share * 100)} % full of ${Math.round(row.fill.limit * 100)} %` : ""}, ${way.state}`;
  return (
    <>
      <g
        role="button"
        tabIndex={0}
        aria-label={told}
        aria-pressed={chosen}
        data-way={way.id}
        data-spot=""
        cursor="pointer"
        onClick={() => onChoose(way.id)}
        onKeyDown={(event) => (event.key === "Enter" || event.key === " ") && onChoose(way.id)}
      >
        <title>{[told, ...riding.slice(0, 12)].join("\n")}</title>
        <rect x={x} y={y} width={width} height={BAR} fill="var(--chakra-colors-bg-panel)" />
        {cables.map((cable, i) => (
          <rect
            key={cable.id}
            x={x}
            y={y + heights.slice(0, i).reduce((sum, h) => sum + h, 0)}
            width={width}
            height={Math.max(1, (heights[i] ?? 1) - 0.6)}
            fill={jacketColor(cable.fiber ?? [], catalog)}
          />
        ))}
        <rect
          x={x}
          y={y}
          width={width}
          height={BAR}
          fill="none"
          stroke="currentColor"
          strokeWidth={chosen || lit ? 3 : 1}
          strokeDasharray={way.state === "planned" ? "4 3" : undefined}
        />
      </g>
      <g aria-hidden pointerEvents="none">
        <text x={x + 2} y={y - 4} style={{ fontSize: 11, fontWeight: over ? 600 : 400 }} className="figures">
          {length}
          {way.state === "existing" ? "" : `, ${way.state}`}
          {over ? `, ${Math.round((row?.fill?.share ?? 0) * 100)} %` : ""}
        </text>
        <text x={x + 2} y={y + BAR + 11} style={{ fontSize: 10.5 }} fill="var(--chakra-colors-fg-muted)">
          {shortened(way.name, width)}
        </text>
        {through && (
          <text
            x={x + width - 3}
            y={y + BAR - 4}
            textAnchor="end"
            style={{ fontSize: 10.5, fontWeight: 600, paintOrder: "stroke" }}
            stroke="var(--chakra-colors-bg-panel)"
            strokeWidth="3"
          >
            {shortened(through, width)}
          </text>
        )}
      </g>
    </>
  );
}
