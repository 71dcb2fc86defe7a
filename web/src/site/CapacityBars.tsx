import type { Capacity } from "../shared/api";
import { BarKey, Bars } from "../draw/Bars";
import { evenScale, roundUp } from "../draw/scale";

type Cable = Capacity["cables"][number];

const count = (n: number, words: string) => (n > 0 ? `${n} ${words}` : "");

/** The cables as strips of strands on one scale, those that run out first on top. */
export function CapacityBars({ cables, years }: { cables: readonly Cable[]; years: number }) {
  const top = roundUp(Math.max(...cables.map((row) => Math.max(row.strands, row.wanted)), 2));
  const scale = evenScale(0, top, 0, 1, 8);
  const sooner = (one: Cable) => (one.pull_now > 0 || one.dead >= one.strands ? -1 : (one.enough_years ?? 999));
  const rows = [...cables].sort((a, b) => sooner(a) - sooner(b));
  return (
    <>
      <BarKey
        entries={[
          ["full", "used"],
          ["soft", "promised"],
          ["hatched", "dead"],
          ["open", "spare"],
        ]}
      />{" "}
      <span style={{ fontSize: 12 }}>
        upright mark: wanted in {years} years, spares and all; × : too few for that
      </span>
      <Bars
        label="Strands of the cables"
        testid="strand-strips"
        ticks={scale.ticks.map((n) => ({ at: scale.at(n), words: String(n) }))}
        rows={rows.map((row) => {
          const edges = [0, row.used, row.used + row.promised, row.strands - row.dead, row.strands].map(scale.at);
          const [zero, used, promised, living, all] = edges as [number, number, number, number, number];
          return {
            key: row.cable,
            name: row.name,
            strong: row.pull_now > 0,
            marks: [scale.at(row.wanted)],
            words: `${row.name}: ${[
              `${row.strands} strands`,
              count(row.used, "used"),
              count(row.promised, "promised"),
              count(row.dead, "dead"),
              `${row.spare} spare`,
              `${row.wanted} wanted in ${years} years`,
            ]
              .filter(Boolean)
              .join(", ")}`,
            parts: [
              { from: promised, to: living, look: "open" as const },
              { from: zero, to: used, look: "full" as const },
              { from: used, to: promised, look: "soft" as const },
              { from: living, to: all, look: "hatched" as const },
            ].filter((part) => part.to > part.from),
            end: row.pull_now ? `× pull ${row.pull_now}` : row.dead >= row.strands ? "× all dead" : "enough",
          };
        })}
      />
    </>
  );
}
