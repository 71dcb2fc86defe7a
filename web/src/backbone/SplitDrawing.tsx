import { useNavigate } from "react-router";

import { Drawing } from "../draw/Drawing";
import type { SplitPort } from "../shared/api";
import { rateText } from "../shared/format";

const INK = "var(--chakra-colors-fg)";
const ROW = 30;

/** The fast port at the left, one trunk of lanes, and each leg going down to its host in its order. */
export function SplitDrawing({ port }: { port: SplitPort }) {
  const navigate = useNavigate();
  const height = port.legs.length * ROW + 20;
  const spine = 240;
  return (
    <Drawing label={`Legs of ${port.label || port.cage}.`} width={860} height={height} scrolls>
      <rect x="6" y="10" width="150" height={height - 20} fill="var(--chakra-colors-bg-muted)" stroke={INK} />
      <text x="16" y="34" fontSize="13" fill={INK} fontWeight="600">
        {port.label || port.cage}
      </text>
      <text x="16" y="52" fontSize="12" fill={INK} className="figures">
        {rateText(port.whole_mbps)}
      </text>
      <path d={`M156 ${height / 2}H${spine}`} stroke={INK} strokeWidth="6" />
      <path d={`M${spine} ${10 + ROW / 2}V${height - 10 - ROW / 2}`} stroke={INK} strokeWidth="6" />
      {port.legs.map((leg, i) => {
        const y = 10 + i * ROW + ROW / 2;
        const taken = leg.link != null;
        const words = taken
          ? `${leg.name}: ${leg.label || "port"} at ${leg.place}, ${rateText(leg.rate_mbps ?? 0)}, ${leg.verdict}`
          : "free: cap it";
        return (
          <g
            key={leg.number}
            {...(taken && {
              role: "link",
              tabIndex: 0,
              "data-spot": "",
              style: { cursor: "pointer" },
              onClick: () => navigate(`/links/${leg.link}`),
              onKeyDown: (event: React.KeyboardEvent) => event.key === "Enter" && navigate(`/links/${leg.link}`),
            })}
          >
            <path
              d={`M${spine} ${y}H${spine + 150}`}
              stroke={INK}
              strokeWidth="2.4"
              strokeDasharray={taken ? undefined : "5 4"}
            />
            <text x={spine + 10} y={y - 5} fontSize="12" fill={INK} className="figures">
              {`leg ${leg.number} `}
            </text>
            <rect
              x={spine + 150}
              y={y - 10}
              width="20"
              height="20"
              fill={taken ? "var(--chakra-colors-bg-muted)" : "none"}
              stroke={INK}
              strokeDasharray={taken ? undefined : "3 3"}
            />
            <text x={spine + 180} y={y + 4} fontSize="13" fill={INK}>
              {words}
            </text>
          </g>
        );
      })}
    </Drawing>
  );
}
