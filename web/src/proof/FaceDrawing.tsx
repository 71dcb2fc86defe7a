import type { KeyboardEvent, MouseEvent } from "react";

import type { FaceDefect, FaceZone } from "../shared/api";

const SIZE = 220;

interface Props {
  zones: readonly FaceZone[];
  marks: readonly (FaceDefect & { x: number; y: number })[];
  picture: string;
  onMark: (x_um: number, y_um: number) => void;
}

/** A face as the scope shows it, its zones over the picture, to scale; a tap sets a mark. */
export function FaceDrawing({ zones, marks, picture, onMark }: Props) {
  const widest = zones.at(-1)?.to_um ?? 250;
  const scale = (SIZE - 8) / widest;
  const middle = SIZE / 2;
  function tap(event: MouseEvent<SVGSVGElement>) {
    const box = event.currentTarget.getBoundingClientRect();
    onMark((event.clientX - box.left - middle) / scale, (event.clientY - box.top - middle) / scale);
  }
  function key(event: KeyboardEvent) {
    if (event.key === "Enter") onMark(0, 0);
  }
  return (
    <svg
      width={SIZE}
      height={SIZE}
      role="button"
      tabIndex={0}
      aria-label="Face: tap where a mark is; Enter sets one in the middle of the core"
      onClick={tap}
      onKeyDown={key}
      style={{ cursor: "crosshair", background: "var(--chakra-colors-bg-muted)", flexShrink: 0 }}
      data-testid="face-drawing"
    >
      {picture && (
        <image href={picture} x="0" y="0" width={SIZE} height={SIZE} preserveAspectRatio="xMidYMid slice" />
      )}
      {zones.map((zone) => (
        <g key={zone.zone}>
          <circle
            cx={middle}
            cy={middle}
            r={(zone.to_um / 2) * scale}
            fill="none"
            stroke="var(--chakra-colors-fg)"
            strokeDasharray={picture ? "3 3" : undefined}
          />
          <text
            x={middle}
            y={
              zone.zone === "adhesive"
                ? middle + (zone.to_um / 2) * scale + 11
                : middle - (zone.to_um / 2) * scale + 11
            }
            fontSize="10"
            textAnchor="middle"
            fill="var(--chakra-colors-fg)"
            stroke="var(--chakra-colors-bg)"
            strokeWidth="3"
            paintOrder="stroke"
          >
            {zone.zone}
          </text>
        </g>
      ))}
      {marks.map((mark, i) => (
        <circle
          key={i}
          cx={middle + mark.x * scale}
          cy={middle + mark.y * scale}
          r={Math.max(3, (mark.size_um / 2) * scale)}
          fill={mark.kind === "defect" ? "var(--chakra-colors-fg)" : "none"}
          stroke="var(--chakra-colors-fg)"
          strokeWidth="1.5"
        />
      ))}
    </svg>
  );
}
