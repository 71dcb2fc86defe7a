import { Box } from "@chakra-ui/react";

import { Drawing, Spot } from "../draw/Drawing";
import type { NetworkOut } from "../shared/api";
import { rateText } from "../shared/format";
import { BOX_H, BOX_W, NetworkWire, rolesOf } from "./NetworkWire";
import { rowsOf } from "./networkRows";

const ROW = 132;
const GAP = 22;

/** Boxes in rows by how far they are from the root; links that carry are full, those that wait are broken lines. */
export function NetworkDrawing({ out }: { out: NetworkOut }) {
  const rows = rowsOf(out);
  const width = Math.max(...rows.map((row) => row.length)) * (BOX_W + GAP) + GAP;
  const at = new Map<string, { x: number; y: number }>();
  rows.forEach((row, r) =>
    row.forEach((name, c) => at.set(name, { x: ((c + 0.5) / row.length) * width - BOX_W / 2, y: 10 + r * ROW })),
  );
  const hang = hanging(out, at);
  const height = rows.length * ROW;
  return (
    <Box overflowX="auto" mt={2}>
      <Drawing label={told(out)} width={width} height={height} scrolls>
        {out.links.map((link, i) => {
          const a = at.get(String(link["a"]));
          const b = at.get(String(link["b"]));
          if (!a || !b) return null;
          const twins = out.links.filter((one) => one["a"] === link["a"] && one["b"] === link["b"]);
          const shift = (twins.indexOf(link) - (twins.length - 1) / 2) * 26;
          return <NetworkWire key={i} out={out} link={link} from={a} to={b} shift={shift} hang={hang} />;
        })}
        {out.boxes.map((box) => {
          const spot = at.get(box.name);
          if (!spot) return null;
          const root = out.tree.root === box.name;
          return (
            <Spot key={box.name} words={boxTold(out, box, root, at)}>
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
              {reached(out, box.name, at).map((words, n) => (
                <text
                  key={n}
                  x={spot.x + 7}
                  y={spot.y + BOX_H + 14 + n * 13}
                  fontSize="11"
                  fill="var(--chakra-colors-fg-muted)"
                >
                  {words}
                </text>
              ))}
            </Spot>
          );
        })}
      </Drawing>
    </Box>
  );
}

type Spots = ReadonlyMap<string, { x: number; y: number }>;

/** A box as it is spoken: its name, its part in the tree, and how it reaches those above it. */
function boxTold(out: NetworkOut, box: NetworkOut["boxes"][number], root: boolean, at: Spots): string {
  const tree = box.protocol === "none" ? "no tree" : box.protocol === "unknown" ? "tree not said" : box.protocol;
  return [box.name, root ? "the root" : "", tree, ...reached(out, box.name, at)].filter(Boolean).join(", ");
}

/** The links of a box towards those above or beside it, in words. */
function reached(out: NetworkOut, name: string, at: Spots): string[] {
  const own = at.get(name)?.y ?? 0;
  return out.links
    .filter((one) => one["b"] === name || one["a"] === name)
    .filter((one) => {
      const y = at.get(String(one["a"] === name ? one["b"] : one["a"]))?.y ?? 0;
      return y < own || (y === own && one["b"] === name);
    })
    .map((one) => {
      const roles = rolesOf(out, one);
      const waits = roles.some((role) => role === "alternate" || role === "backup");
      const state = one["down"] ? ", down" : waits ? ", blocks" : roles.includes("unknown") ? ", not known" : "";
      return `${rateText(Number(one["rate_mbps"]))}${state}`;
    });
}

/** Where along the lower edge of a box each of its links leaves: side by side, in the order of where they lead. */
function hanging(out: NetworkOut, at: Spots) {
  return (link: NetworkOut["links"][number], bridge: string): number => {
    const other = (one: typeof link) => String(one["a"] === bridge ? one["b"] : one["a"]);
    const below = out.links
      .filter((one) => one["a"] === bridge || one["b"] === bridge)
      .filter((one) => (at.get(other(one))?.y ?? 0) > (at.get(bridge)?.y ?? 0))
      .sort((p, q) => (at.get(other(p))?.x ?? 0) - (at.get(other(q))?.x ?? 0));
    const place = below.indexOf(link);
    return place < 0 ? 0 : ((place + 1) / (below.length + 1) - 0.5) * BOX_W;
  };
}

function told(out: NetworkOut): string {
  const blocks = (out.tree.ports ?? [])
    .filter((one) => one.role === "alternate" || one.role === "backup")
    .map((one) => `${one.bridge} port ${one.port} blocks, towards ${one.link}`);
  const root = out.tree.root ? `The root is ${out.tree.root}` : "The root is not known";
  return `${out.boxes.length} boxes, ${out.links.length} links. ${root}. ${blocks.join("; ") || "No port is known to block"}.`;
}
