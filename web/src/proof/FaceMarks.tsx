import { Box } from "@chakra-ui/react";

import type { ProofFace } from "../shared/api";
import type { Place } from "../link/layout";

interface Props {
  faces: readonly ProofFace[];
  places: readonly Place[];
  width: number;
  held: string | null;
  onHold: (name: string) => void;
}

export const faceKey = (face: ProofFace): string => `${face.element}-${face.face}`;

const state = (face: ProofFace): string =>
  face.next.step === "leave the module"
    ? "not graded"
    : face.next.done
      ? "passes"
      : face.steps.length
        ? "open"
        : "not looked at";

/** The faces that are plugged by hand, each a press away at its place: open, half, full, crossed. */
export function FaceMarks({ faces, places, width, held, onHold }: Props) {
  if (faces.length === 0) return null;
  const at = new Map(places.map((place) => [place.id, place]));
  return (
    <Box position="relative" height="44px" width={`${width}px`} role="group" aria-label="Faces">
      {faces.map((face) => {
        const place = at.get(face.element);
        if (!place) return null;
        const key = faceKey(face);
        const x =
          face.face === "left"
            ? place.x + Math.min(11, place.w / 4)
            : place.x + place.w - Math.min(11, place.w / 4);
        const told = state(face);
        return (
          <Box
            key={key}
            as="button"
            position="absolute"
            left={`${x - 11}px`}
            top="0"
            width="22px"
            height="40px"
            aria-label={`Face ${face.words} of ${face.element}, ${face.face} side: ${told}`}
            aria-pressed={held === key}
            data-face={key}
            onClick={() => onHold(key)}
          >
            <svg width="20" height="20" style={{ margin: "0 auto" }} aria-hidden>
              {held === key && <circle cx="10" cy="10" r="9.5" fill="var(--chakra-colors-bg-muted)" />}
              <circle
                cx="10"
                cy="10"
                r="6"
                fill={told === "passes" ? "var(--chakra-colors-fg)" : "none"}
                stroke="var(--chakra-colors-fg)"
                strokeDasharray={told === "not graded" ? "2 2" : undefined}
              />
              {told === "open" && <path d="M10 4a6 6 0 0 0 0 12z" fill="var(--chakra-colors-fg)" />}
            </svg>
          </Box>
        );
      })}
    </Box>
  );
}
