import type { NetworkOut } from "../shared/api";

/** How large a box of the network is drawn, in pixels. */
export const BOX_W = 126;
export const BOX_H = 40;

/** The roles of a link's two ports in the tree. */
export const rolesOf = (out: NetworkOut, link: NetworkOut["links"][number]): string[] =>
  (["a", "b"] as const).map(
    (side) =>
      (out.tree.ports ?? []).find((one) => one.bridge === link[side] && one.port === link[`${side}_port`])?.role ??
      "unknown",
  );

interface WireProps {
  out: NetworkOut;
  link: NetworkOut["links"][number];
  from: { x: number; y: number };
  to: { x: number; y: number };
  shift: number;
  hang: (link: NetworkOut["links"][number], bridge: string) => number;
}

/** A link of the network: full where it carries, broken where it waits, with two strokes at the port that blocks. */
export function NetworkWire({ out, link, from, to, shift, hang }: WireProps) {
  const ends = rolesOf(out, link);
  const waits = ends.some((one) => one === "alternate" || one === "backup");
  const doubt = ends.includes("unknown");
  const level = from.y === to.y;
  const upper = from.y < to.y ? "a" : "b";
  const leaves = hang(link, String(link[upper]));
  const x1 = from.x + BOX_W / 2 + (level ? 0 : upper === "a" ? leaves : shift);
  const x2 = to.x + BOX_W / 2 + (level ? 0 : upper === "b" ? leaves : shift);
  const [y1, y2] = level
    ? [from.y + BOX_H, to.y + BOX_H]
    : from.y < to.y
      ? [from.y + BOX_H, to.y]
      : [from.y, to.y + BOX_H];
  const dip = level ? 26 + Math.abs(shift) : 0;
  const path = level ? `M${x1} ${y1}q${(x2 - x1) / 2} ${dip} ${x2 - x1} 0` : `M${x1} ${y1}L${x2} ${y2}`;
  const blockedAt = ends[0] === "alternate" || ends[0] === "backup" ? 0 : 1;
  const mx = x1 + (x2 - x1) * (blockedAt ? 0.82 : 0.18);
  const my = y1 + (y2 - y1) * (blockedAt ? 0.82 : 0.18) + (level ? dip * 0.3 : 0);
  return (
    <g>
      <path
        d={path}
        fill="none"
        stroke="var(--chakra-colors-fg)"
        strokeWidth={waits ? 1.2 : 2}
        strokeDasharray={waits ? "6 4" : doubt ? "2 3" : undefined}
      />
      {waits && (
        <path
          d={`M${mx - 5} ${my - 5}h10M${mx - 5} ${my + 5}h10`}
          stroke="var(--chakra-colors-fg)"
          strokeWidth="2.4"
        />
      )}
    </g>
  );
}
