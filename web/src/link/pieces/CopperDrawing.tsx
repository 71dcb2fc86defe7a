import { MIDDLE } from "./PlugShape";

const INK = "var(--chakra-colors-fg)";
const PAPER = "var(--chakra-colors-bg-panel)";

/** The eight contacts of a twisted-pair plug or jack. */
export const Contacts = ({ x, y }: { x: number; y: number }) => (
  <path d={Array.from({ length: 8 }, (_, i) => `M${x + i * 2.2} ${y}v9`).join("")} stroke={INK} strokeWidth="0.8" />
);

/** Two wires around each other, in ink: color belongs to the glass. Fixed cable lies straight, a cord hangs. */
export function TwistedDrawing({ w, fixed }: { w: number; fixed: boolean }) {
  const [x1, x2] = [20, w - 20];
  const turns = Math.max(3, Math.round((x2 - x1) / 14));
  const step = (x2 - x1) / turns;
  const sag = (x: number) => (fixed ? 0 : 14 * (1 - ((x - w / 2) / (w / 2 - 20)) ** 2));
  const wire = (side: 1 | -1) =>
    Array.from({ length: turns }, (_, i) => {
      const from = x1 + i * step;
      const y = MIDDLE + sag(from + step / 2) + (i % 2 === 0 ? side : -side) * 6;
      return `Q${from + step / 2} ${y} ${from + step} ${MIDDLE + sag(from + step)}`;
    }).join("");
  return (
    <>
      <path d={`M${x1} ${MIDDLE}${wire(1)}`} fill="none" stroke={INK} strokeWidth={fixed ? 2.2 : 1.6} />
      <path
        d={`M${x1} ${MIDDLE}${wire(-1)}`}
        fill="none"
        stroke={INK}
        strokeWidth={fixed ? 2.2 : 1.6}
        opacity="0.55"
      />
      <EightWay x={0} />
      <EightWay x={w - 20} />
    </>
  );
}

function EightWay({ x }: { x: number }) {
  return (
    <>
      <rect x={x} y={MIDDLE - 10} width="20" height="20" fill={PAPER} stroke={INK} />
      <Contacts x={x + 2} y={MIDDLE - 8} />
    </>
  );
}

/** A module that sits in a cage and offers an 8-way jack. */
export function Jack({ w, atLeft }: { w: number; atLeft: boolean }) {
  const opening = atLeft ? w - 22 : 2;
  return (
    <>
      <rect x="0" y={MIDDLE - 16} width={w} height="32" fill={PAPER} stroke={INK} />
      <rect x={opening} y={MIDDLE - 11} width="20" height="22" fill="var(--chakra-colors-bg)" stroke={INK} />
      <Contacts x={opening + 2} y={MIDDLE - 9} />
    </>
  );
}

/** One cable with a module's plug at each end; of several legs the one in hand is drawn, the others end in the air. */
export function AssemblyDrawing({ w, optical, legs }: { w: number; optical: boolean; legs: number }) {
  const [x1, x2] = [34, w - 34];
  return (
    <>
      {Array.from({ length: legs - 1 }, (_, i) => (
        <path
          key={i}
          d={`M${x1 + 24} ${MIDDLE}l22 ${16 + i * 8}h18`}
          fill="none"
          stroke={INK}
          strokeWidth="1.4"
          opacity="0.5"
        />
      ))}
      <path d={`M${x1} ${MIDDLE}H${x2}`} stroke={INK} strokeWidth={optical ? 3 : 8} />
      {!optical && <path d={`M${x1} ${MIDDLE}H${x2}`} stroke={PAPER} strokeWidth="1" strokeDasharray="5 3" />}
      {[0, w - 34].map((x) => (
        <g key={x}>
          <rect x={x} y={MIDDLE - 15} width="34" height="30" fill={PAPER} stroke={INK} />
          <path d={`M${x + 6} ${MIDDLE - 8}h22M${x + 6} ${MIDDLE + 8}h22`} stroke={INK} strokeWidth="0.9" />
        </g>
      ))}
    </>
  );
}
