import type { Route } from "../shared/api";
import { lengthText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { Drawing, INK, LINE, PAPER, SHADE, Spot } from "../draw/Drawing";
import { Fitted } from "../draw/Fitted";
import { cutTo } from "../draw/scale";

const HEIGHT = 46;
const WORDS: Record<string, string> = {
  strands: "free strands of",
  pull: "a cable pulled through",
  "new duct": "a new duct beside",
  "new way": "new work,",
};

/** A route step by step to the scale of all of them: free strands filled, what is pulled open, new work broken. */
export function RouteStrip({ route, most }: { route: Route; most: number }) {
  const { unit } = useSettings();
  return (
    <Fitted most={376} height={HEIGHT}>
      {(width) => {
        let x = 4;
        const room = width - 8;
        return (
          <Drawing
            label={`The route ${route.aim}, ${lengthText(route.length_m, unit)} from ${route.start} to ${route.end}.`}
            width={width}
            height={HEIGHT}
          >
            {route.steps.map((step, i) => {
              const from = x;
              const wide = Math.max(3, (step.length_m / most) * room);
              x += wide;
              const made = step.kind !== "strands" && step.kind !== "pull";
              return (
                <Spot
                  key={i}
                  words={`${step.start} to ${step.end}: ${WORDS[step.kind] ?? step.kind} ${step.name}, ${lengthText(step.length_m, unit)}`}
                >
                  <rect
                    x={from}
                    y={made ? 9 : 11}
                    width={wide}
                    height={made ? 12 : 8}
                    fill={step.kind === "strands" ? INK : made ? SHADE : PAPER}
                    stroke={INK}
                    strokeDasharray={made ? "3 2" : undefined}
                  />
                  <path d={`M${from} 5V25`} stroke={LINE} />
                  {wide > 46 && (
                    <text x={from + 2} y={38} fontSize="10.5">
                      {cutTo(step.name, Math.floor(wide / 5.6))}
                    </text>
                  )}
                </Spot>
              );
            })}
            <path d={`M${x} 5V25`} stroke={LINE} />
          </Drawing>
        );
      }}
    </Fitted>
  );
}
