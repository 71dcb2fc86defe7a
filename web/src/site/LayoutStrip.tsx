import type { Layouts } from "../shared/api";
import { lengthText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { Cross, Drawing, FAINT, INK, MUTED, PAPER, Spot } from "../draw/Drawing";
import { Fitted } from "../draw/Fitted";
import { cutTo, evenScale } from "../draw/scale";
import { placed } from "./layoutRows";

type Layout = Layouts["layouts"][number];

const ROW = 20;
const LEFT = 12;
const RIGHT = 128;
const TOP = 26;

/** One layout as strips from the core, to the same scale as the others; what one fault takes is crossed. */
export function LayoutStrip({
  layout,
  core,
  most,
  name,
}: {
  layout: Layout;
  core: string;
  /** The longest way from the core of all the layouts, in m. */
  most: number;
  name: (id: string) => string;
}) {
  const { unit } = useSettings();
  const hops = placed(layout.hops ?? [], core);
  const rows = Math.max(...hops.map((hop) => hop.row), 0) + 1;
  const height = TOP + rows * ROW + 8;
  const dark = new Set(layout.dark ?? []);
  return (
    <Fitted most={560} height={height}>
      {(width) => {
        const along = evenScale(0, most, LEFT, width - RIGHT);
        const y = (row: number) => TOP + row * ROW + ROW / 2;
        return (
          <Drawing
            label={`${layout.name}: ${layout.why}`}
            width={width}
            height={height}
            testid={`layout-${layout.name.replace(" ", "-")}`}
          >
            <text x={LEFT} y={12} fontSize="11" fill={MUTED}>
              {name(core)}
            </text>
            <path d={`M${LEFT} 16V${height - 4}`} stroke={INK} strokeWidth="3" />
            {hops.map((hop, i) => {
              const cut = dark.has(hop.end);
              const home = hop.end === core;
              const told = `${name(hop.start)} to ${name(hop.end)}, ${lengthText(hop.length_m, unit)}, ${hop.strands} strands${cut ? ", dark after the worst fault" : ""}`;
              const from = along.at(hop.from_m);
              const to = along.at(hop.to_m);
              return (
                <Spot key={i} words={told}>
                  {hop.parent_row !== hop.row && hop.from_m > 0 && (
                    <path d={`M${from} ${y(hop.parent_row)}V${y(hop.row)}`} stroke={FAINT} />
                  )}
                  <path
                    d={`M${from} ${y(hop.row)}H${to}`}
                    stroke={INK}
                    strokeWidth={Math.min(8, 1 + hop.strands / 8)}
                    strokeDasharray={cut ? "3 3" : undefined}
                  />
                  {!home && (
                    <rect
                      x={to - 4}
                      y={y(hop.row) - 4}
                      width="8"
                      height="8"
                      fill={PAPER}
                      stroke={INK}
                      strokeWidth="1.5"
                    />
                  )}
                  {cut && <Cross x={to} y={y(hop.row)} size={4} />}
                  {(hop.last || home) && (
                    <text x={to + 9} y={y(hop.row) + 4} fontSize="11">
                      {home ? `back to ${cutTo(name(core), 16)}` : cutTo(name(hop.end), 19)}
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
