import type { ReactNode } from "react";

import "./bars.css";
import { FAINT, INK, MUTED, SHADE, walk } from "./Drawing";

/** One part of a bar, from and to as shares of the track. */
export interface Part {
  from: number;
  to: number;
  /** `full` is what is; `soft` what is promised or added; `open` an outline: what is free or missing; `hatched` what is lost. */
  look: "full" | "soft" | "open" | "hatched";
  color?: string;
}

export interface BarRow {
  key: string;
  name: ReactNode;
  /** What the row says, for who hears it. */
  words: string;
  parts: readonly Part[];
  end: ReactNode;
  /** Upright marks on this row alone, as shares. */
  marks?: readonly number[];
  strong?: boolean;
}

interface Props {
  label: string;
  rows: readonly BarRow[];
  /** The values written on the scale, as shares. */
  ticks?: readonly { at: number; words: string }[];
  /** Lines across all rows, each with its words. */
  lines?: readonly { at: number; words: string }[];
  testid?: string;
}

const percent = (share: number) => `${Math.min(1, Math.max(0, share)) * 100}%`;

/** Bars on one common scale, a row each; walked with the arrow keys, each row spoken. */
export function Bars({ label, rows, ticks = [], lines = [], testid }: Props) {
  const foot = lines.length > 0 ? 26 : 12;
  return (
    <div role="group" aria-label={`${label}. Arrow keys walk it.`} tabIndex={0} onKeyDown={walk} data-drawing="">
      {(ticks.length > 0 || lines.length > 0) && (
        <div className="bars" aria-hidden>
          <div>
            <span />
            <span className="track" style={{ height: foot + 4 }}>
              <svg>
                {lines.map((line) => (
                  <text
                    key={line.at}
                    x={percent(line.at)}
                    y="11"
                    fontSize="11.5"
                    textAnchor={line.at > 0.85 ? "end" : line.at < 0.15 ? "start" : "middle"}
                    fill={INK}
                  >
                    {line.words}
                  </text>
                ))}
                {ticks.map((tick) => (
                  <text
                    key={tick.at}
                    x={percent(tick.at)}
                    y={foot}
                    fontSize="10.5"
                    textAnchor={tick.at > 0.96 ? "end" : tick.at < 0.04 ? "start" : "middle"}
                    fill={MUTED}
                    className="figures"
                  >
                    {tick.words}
                  </text>
                ))}
              </svg>
            </span>
            <span />
          </div>
        </div>
      )}
      <ul className="bars" data-testid={testid} style={{ listStyle: "none" }}>
        {rows.map((row) => (
          <li
            key={row.key}
            data-spot=""
            data-row={row.key}
            tabIndex={-1}
            aria-label={row.words}
            style={{ fontWeight: row.strong ? 600 : undefined }}
          >
            <span>{row.name}</span>
            <span className="track" aria-hidden>
              <svg>
                {ticks.map((tick) => (
                  <line key={tick.at} x1={percent(tick.at)} x2={percent(tick.at)} y1="0" y2="16" stroke={FAINT} />
                ))}
                {row.parts.map((part, i) => (
                  <BarPart key={i} part={part} />
                ))}
                {[...lines.map((line) => line.at), ...(row.marks ?? [])].map((at) => (
                  <line key={at} x1={percent(at)} x2={percent(at)} y1="-2" y2="18" stroke={INK} strokeWidth="1.6" />
                ))}
              </svg>
            </span>
            <span className="end figures">{row.end}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}

function BarPart({ part }: { part: Part }) {
  const x = percent(part.from);
  const width = `${Math.max(0, Math.min(1, part.to) - Math.max(0, part.from)) * 100}%`;
  const fill = part.look === "full" ? (part.color ?? INK) : part.look === "soft" ? (part.color ?? SHADE) : "none";
  return (
    <rect
      x={x}
      y="3"
      width={width}
      height="10"
      fill={fill}
      fillOpacity={part.look === "soft" && part.color ? 0.45 : undefined}
      stroke={INK}
      strokeWidth={part.look === "full" && !part.color ? 0 : 0.8}
      strokeDasharray={part.look === "hatched" ? "2 2" : undefined}
    />
  );
}

/** What the looks of a bar mean. */
export function BarKey({ entries }: { entries: readonly (readonly [Part["look"], string])[] }) {
  return (
    <span style={{ display: "inline-flex", gap: 14, flexWrap: "wrap", fontSize: 12 }} className="bars-key">
      {entries.map(([look, words]) => (
        <span key={words} style={{ display: "inline-flex", gap: 5, alignItems: "center" }}>
          <svg width="22" height="14" aria-hidden>
            <rect
              x="1"
              y="2"
              width="20"
              height="10"
              fill={look === "full" ? INK : look === "soft" ? SHADE : "none"}
              stroke={INK}
              strokeWidth="0.8"
              strokeDasharray={look === "hatched" ? "2 2" : undefined}
            />
          </svg>
          {words}
        </span>
      ))}
    </span>
  );
}
