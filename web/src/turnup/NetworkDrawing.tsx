import { Box } from "@chakra-ui/react";

import type { NetworkOut } from "../shared/api";
import { rateText } from "../shared/format";
import { rowsOf } from "./networkRows";

const ROW = 104;
const BOX_W = 118;
const BOX_H = 40;
const GAP = 34;

/** Boxes in rows by how far they are from the root; links that carry are full, those that wait are broken lines. */
export function NetworkDrawing({ out }: { out: NetworkOut }) {
  const rows = rowsOf(out);
  const width = Math.max(...rows.map((row) => row.length)) * (BOX_W + GAP) + GAP;
  const at = new Map<string, { x: number; y: number }>();
  rows.forEach((row, r) => row.forEach((name, c) => at.set(name, { x: GAP + c * (BOX_W + GAP), y: 10 + r * ROW })));
  const height = rows.length * ROW;
  return (
    <Box overflowX="auto" mt={2} tabIndex={0} role="group" aria-label="The network">
      <svg width={width} height={height} role="img" aria-label={told(out)} style={{ display: "block" }}>
        {out.links.map((link, i) => {
          const a = at.get(String(link["a"]));
          const b = at.get(String(link["b"]));
          if (!a || !b) return null;
          const twins = out.links.filter((one) => one["a"] === link["a"] && one["b"] === link["b"]);
          const shift = (twins.indexOf(link) - (twins.length - 1) / 2) * 26;
          return <Wire key={i} out={out} link={link} from={a} to={b} shift={shift} />;
        })}
        {out.boxes.map((box) => {
          const spot = at.get(box.name);
          if (!spot) return null;
          const root = out.tree.root === box.name;
          return (
            <g key={box.name}>
              <rect
                x={spot.x}
                y={spot.y}
                width={BOX_W}
                height={BOX_H}
                fill="var(--chakra-colors-bg)"
                stroke="var(--chakra-colors-fg)"
                strokeWidth={root ? 2.6 : 1}
              />
              <text x={spot.x + 7} y={spot.y + 17} fontSize="13" fontWeight={600} fill="var(--chakra-colors-fg)">
                {box.name}
              </text>
              <text x={spot.x + 7} y={spot.y + 32} fontSize="11" fill="var(--chakra-colors-fg-muted)">
                {root ? "root, " : ""}
                {box.protocol === "none" ? "no tree" : box.protocol === "unknown" ? "tree not said" : box.protocol}
              </text>
            </g>
          );
        })}
      </svg>
    </Box>
  );
}

interface WireProps {
  out: NetworkOut;
  link: NetworkOut["links"][number];
  from: { x: number; y: number };
  to: { x: number; y: number };
  shift: number;
}

function Wire({ out, link, from, to, shift }: WireProps) {
  const role = (bridge: unknown, port: unknown) =>
    (out.tree.ports ?? []).find((one) => one.bridge === bridge && one.port === port)?.role ?? "unknown";
  const ends = [role(link["a"], link["a_port"]), role(link["b"], link["b_port"])];
  const waits = ends.some((one) => one === "alternate" || one === "backup");
  const doubt = ends.includes("unknown");
  const level = from.y === to.y;
  const x1 = from.x + BOX_W / 2 + (level ? 0 : shift);
  const x2 = to.x + BOX_W / 2 + (level ? 0 : shift);
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
      <text
        x={(x1 + x2) / 2 + 6}
        y={(y1 + y2) / 2 + (level ? dip / 2 + 12 : shift < 0 ? -6 : 8)}
        fontSize="11"
        fill="var(--chakra-colors-fg-muted)"
      >
        {rateText(Number(link["rate_mbps"]))}
        {waits ? ", blocks" : doubt ? ", not known" : ""}
      </text>
    </g>
  );
}

function told(out: NetworkOut): string {
  const blocks = (out.tree.ports ?? [])
    .filter((one) => one.role === "alternate" || one.role === "backup")
    .map((one) => `${one.bridge} port ${one.port} blocks, towards ${one.link}`);
  const root = out.tree.root ? `The root is ${out.tree.root}` : "The root is not known";
  return `${out.boxes.length} boxes, ${out.links.length} links. ${root}. ${blocks.join("; ") || "No port is known to block"}.`;
}
