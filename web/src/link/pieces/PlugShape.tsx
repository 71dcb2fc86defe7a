import { PLUG_COLORS, type Plug } from "../../shared/colors";

export const MIDDLE = 46;

/** A plug seen from the side, at `x`, its ferrules pointing left or right. Angled tips are drawn angled. */
export function PlugShape({
  plug,
  x,
  points,
  single,
}: {
  plug: Plug;
  x: number;
  points: "left" | "right";
  single?: boolean;
}) {
  const flip = points === "left" ? `translate(${x} 0)` : `translate(${x} 0) scale(-1 1)`;
  const color = PLUG_COLORS[plug.polish];
  return (
    <g transform={flip}>
      {(single ? [MIDDLE] : [MIDDLE - 8, MIDDLE + 8]).map((y) => (
        <Ferrule key={y} y={y} angled={plug.polish === "APC"} flat={plug.polish === "PC"} />
      ))}
      <g fill={color} stroke="var(--chakra-colors-fg)" strokeWidth="0.8">
        {single ? (
          <rect x="6" y={MIDDLE - 6} width="13" height="12" rx={plug.shape === "ST" ? 6 : 1} />
        ) : (
          BODIES[plug.shape]
        )}
      </g>
    </g>
  );
}

function Ferrule({ y, angled, flat }: { y: number; angled: boolean; flat: boolean }) {
  const tip = angled
    ? `M0 ${y + 3}L4 ${y - 3}H8V${y + 3}z`
    : flat
      ? `M1 ${y - 3}H8V${y + 3}H1z`
      : `M3 ${y - 3}H8V${y + 3}H3Q-1 ${y} 3 ${y - 3}z`;
  return <path d={tip} fill="var(--chakra-colors-bg)" stroke="var(--chakra-colors-fg)" strokeWidth="0.9" />;
}

/** Bodies of the four shapes: latched small, square push-pull, bayonet, screwed. */
const BODIES: Record<Plug["shape"], React.ReactNode> = {
  LC: (
    <>
      <rect x="6" y={MIDDLE - 13} width="13" height="10" rx="1" />
      <rect x="6" y={MIDDLE + 3} width="13" height="10" rx="1" />
      <path d={`M8 ${MIDDLE - 13}l8 -4v4z`} />
    </>
  ),
  SC: <rect x="6" y={MIDDLE - 16} width="14" height="32" rx="1" />,
  ST: (
    <>
      <rect x="6" y={MIDDLE - 14} width="13" height="12" rx="6" />
      <rect x="6" y={MIDDLE + 2} width="13" height="12" rx="6" />
    </>
  ),
  FC: (
    <>
      <path d={`M6 ${MIDDLE - 14}h3v12h-3zM11 ${MIDDLE - 14}h3v12h-3zM16 ${MIDDLE - 12}h3v8h-3z`} />
      <path d={`M6 ${MIDDLE + 2}h3v12h-3zM11 ${MIDDLE + 2}h3v12h-3zM16 ${MIDDLE + 4}h3v8h-3z`} />
    </>
  ),
};
