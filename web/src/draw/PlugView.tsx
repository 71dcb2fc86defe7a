import type { ReactNode } from "react";

const INK = "var(--chakra-colors-fg)";
const PAPER = "var(--chakra-colors-bg-panel)";
const SHADE = "var(--chakra-colors-bg-muted)";

/** What of an array plug is seen beside its fibers. */
export interface ArrayLook {
  pins?: boolean;
  key?: "middle" | "beside";
  rows?: number;
}

const Ferrule = ({ x, y, r }: { x: number; y: number; r: number }) => (
  <>
    <circle cx={x} cy={y} r={r} fill={PAPER} stroke={INK} strokeWidth="1" />
    <circle cx={x} cy={y} r="0.9" fill={INK} />
  </>
);

const Box = (x: number, y: number, w: number, h: number, r = 1) => (
  <rect x={x} y={y} width={w} height={h} rx={r} fill={SHADE} stroke={INK} strokeWidth="1.1" />
);

const Round = (r: number) => <circle cx="22" cy="18" r={r} fill={SHADE} stroke={INK} strokeWidth="1.1" />;

/** The row of fibers of an array plug, with pins or holes beside it and its key on top. */
function ArrayFront({ columns, look }: { columns: number; look: ArrayLook }) {
  const rows = look.rows || 1;
  const step = 26 / columns;
  const keyX = (look.key ?? (columns > 12 ? "beside" : "middle")) === "beside" ? 24 : 17;
  return (
    <>
      {Box(2, 11, 40, 16, 2)}
      <rect x={keyX} y="7" width="10" height="4" fill={INK} />
      {[5.5, 38.5].map((x) => (
        <circle key={x} cx={x} cy="19" r="1.9" fill={look.pins ? INK : PAPER} stroke={INK} strokeWidth="1" />
      ))}
      {Array.from({ length: rows * columns }, (_, i) => (
        <circle
          key={i}
          cx={9 + step / 2 + (i % columns) * step}
          cy={rows === 1 ? 19 : 16.5 + Math.floor(i / columns) * 5}
          r="0.85"
          fill={INK}
        />
      ))}
    </>
  );
}

const FRONTS: Record<string, ReactNode> = {
  LC: (
    <>
      {Box(6, 10, 14, 18)}
      {Box(24, 10, 14, 18)}
      <path d="M10 10v-4h6v4M28 10v-4h6v4" fill="none" stroke={INK} strokeWidth="1.1" />
      <Ferrule x={13} y={20} r={2.4} />
      <Ferrule x={31} y={20} r={2.4} />
    </>
  ),
  SC: (
    <>
      {Box(11, 7, 22, 22)}
      <rect x="18" y="4" width="8" height="3" fill={INK} />
      <Ferrule x={22} y={18} r={4.4} />
    </>
  ),
  ST: (
    <>
      {Round(13)}
      <path d="M8 18h4M32 18h4" stroke={INK} strokeWidth="3" />
      <Ferrule x={22} y={18} r={4.4} />
      <rect x="20.5" y="9" width="3" height="3" fill={INK} />
    </>
  ),
  FC: (
    <>
      {Round(13)}
      <circle cx="22" cy="18" r="10" fill="none" stroke={INK} strokeWidth="0.8" strokeDasharray="1.4 1.2" />
      <Ferrule x={22} y={18} r={4.4} />
      <rect x="20.5" y="7.5" width="3" height="3" fill={INK} />
    </>
  ),
  "MT-RJ": (
    <>
      {Box(12, 9, 20, 18)}
      <path d="M17 9v-4h10v4" fill="none" stroke={INK} strokeWidth="1.1" />
      <rect x="15" y="15" width="14" height="7" fill={PAPER} stroke={INK} strokeWidth="0.8" />
      <circle cx="20.5" cy="18.5" r="0.9" fill={INK} />
      <circle cx="23.5" cy="18.5" r="0.9" fill={INK} />
    </>
  ),
  MIC: (
    <>
      <path d="M5 28L9 7h26l4 21z" fill={SHADE} stroke={INK} strokeWidth="1.1" />
      <rect x="19" y="7" width="6" height="4" fill={INK} />
      <Ferrule x={15} y={19} r={4} />
      <Ferrule x={29} y={19} r={4} />
    </>
  ),
  SMA: (
    <>
      <path d="M22 5l11.3 6.5v13L22 31l-11.3 -6.5v-13z" fill={SHADE} stroke={INK} strokeWidth="1.1" />
      <Ferrule x={22} y={18} r={5.2} />
    </>
  ),
  biconic: (
    <>
      {Round(13)}
      <circle cx="22" cy="18" r="8" fill={PAPER} stroke={INK} strokeWidth="0.8" />
      <Ferrule x={22} y={18} r={2.6} />
    </>
  ),
  MU: (
    <>
      {Box(15, 10, 14, 17)}
      <rect x="19" y="8" width="6" height="2.4" fill={INK} />
      <Ferrule x={22} y={18.5} r={2.4} />
    </>
  ),
  LSH: (
    <>
      {Box(13, 6, 18, 24)}
      <path d="M13 11h18" stroke={INK} strokeWidth="1.1" />
      <rect x="19" y="3" width="6" height="3" fill={INK} />
      <Ferrule x={22} y={20} r={4.2} />
    </>
  ),
};

/** A plug as one looks at its face through a scope: outline, key, ferrules, and pins or holes of an array. */
export function PlugFront({ shape, look = {} }: { shape: string; look?: ArrayLook }) {
  const array = shape.startsWith("MPO");
  return (
    <svg viewBox="0 0 44 36" aria-hidden style={{ flexShrink: 0, width: 44, height: 36 }}>
      {array ? <ArrayFront columns={shape === "MPO-16" ? 16 : 12} look={look} /> : FRONTS[shape]}
    </svg>
  );
}

/** Length and height of the body, and how far the ferrule stands out, by shape. */
const SIDES: Record<string, readonly [body: number, height: number, tip: number, ferrule: number]> = {
  LC: [18, 11, 5, 3],
  SC: [22, 17, 3, 5],
  ST: [20, 18, 9, 5],
  FC: [20, 18, 8, 5],
  MPO: [24, 13, 4, 7],
  "MPO-16": [24, 13, 4, 7],
  "MT-RJ": [20, 14, 3, 6],
  MIC: [28, 22, 0, 5],
  SMA: [18, 16, 10, 6],
  biconic: [18, 18, 10, 8],
  MU: [18, 12, 4, 3],
  LSH: [24, 17, 0, 5],
};

/** A plug from the side: ferrule with its polish, body, boot, and the cable behind it. */
export function PlugSide({
  shape,
  face,
  color,
  boot,
}: {
  shape: string;
  face: "flat" | "angled" | "";
  color?: string;
  boot?: string;
}) {
  const [body, height, tip, ferrule] = SIDES[shape] ?? [20, 14, 5, 4];
  const top = 18 - ferrule / 2;
  const slant = face === "angled" ? 2.4 : 0;
  const at = 12 - tip;
  return (
    <svg viewBox="0 0 72 36" aria-hidden style={{ flexShrink: 0, width: 72, height: 36 }}>
      <path d={`M${at + slant} ${top}H12V${top + ferrule}H${at}z`} fill={PAPER} stroke={INK} strokeWidth="1" />
      <rect
        x="12"
        y={18 - height / 2}
        width={body}
        height={height}
        rx="1"
        fill={color ?? SHADE}
        stroke={INK}
        strokeWidth="1.1"
      />
      <path
        d={`M${12 + body} ${18 - height / 3}l12 ${height / 6}v${height / 3}l-12 ${height / 6}z`}
        fill={boot ?? SHADE}
        stroke={INK}
        strokeWidth="1"
      />
      <path d={`M${24 + body} 18H72`} stroke={INK} strokeWidth="2.4" />
    </svg>
  );
}

/** A ferrule's tip alone, large: flat or angled, as a scope from the side would show it. */
export function FerruleTip({ face }: { face: "flat" | "angled" }) {
  return (
    <svg viewBox="0 0 44 30" aria-hidden style={{ flexShrink: 0, width: 44, height: 30 }}>
      <path
        d={face === "angled" ? "M12 6L6 24H44V6z" : "M8 6Q5 15 8 24H44V6z"}
        fill={PAPER}
        stroke={INK}
        strokeWidth="1.2"
      />
      <path d={`M${face === "angled" ? 9 : 6.5} 15H44`} stroke={INK} strokeWidth="1" strokeDasharray="3 2" />
    </svg>
  );
}
