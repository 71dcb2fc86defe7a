import { Box, Button, Flex, Text } from "@chakra-ui/react";

import type { BuiltPiece, LinkDetail, PieceState } from "../../shared/api";
import { Choice } from "../../shared/Choice";
import { ProblemNote } from "../../shared/ProblemNote";
import { lengthText } from "../../shared/format";
import { useProject } from "../../shared/queries";
import { useSettings } from "../../shared/settings";
import { useStates } from "../../order/queries";
import type { EditWish } from "../queries";
import type { Place } from "../layout";
import { BuiltDetail } from "./BuiltDetail";
import { SchoolsView } from "./SchoolsView";
import { useBuild } from "./queries";

/** What becomes of a piece, and how it is drawn: what is not there yet is open, what is there is full. */
export const STATES: readonly PieceState[] = ["existing", "planned", "ordered", "delivered", "installed"];
const FULL: readonly string[] = ["existing", "installed", "tested"];

interface Props {
  detail: LinkDetail;
  places: readonly Place[];
  width: number;
  available: number;
  selected: string | null;
  onSelect: (id: string) => void;
  edit: (wish: EditWish) => void;
}

/** The Build lens: under each piece what is built of it. All of a piece stands below it; in words for the one in hand. */
export function BuildLens({ detail, places, width, available, selected, onSelect, edit }: Props) {
  const { unit } = useSettings();
  const found = useBuild(detail);
  const project = useProject().data;
  const become = useStates(project);
  const pieces = found.data?.pieces ?? [];
  const of = (id: string) => pieces.find((one) => one.element === id);
  const held = pieces.find((one) => one.element === selected);
  return (
    <Box>
      <ProblemNote error={found.error ?? become.error} />
      <Box position="relative" height="88px" width={`${width}px`} aria-label="Build" role="group">
        {places.map((place) => (
          <Under key={place.id} place={place} piece={of(place.id)} unit={unit} onSelect={onSelect} />
        ))}
      </Box>
      <Box position="sticky" left={0} width={`${available}px`}>
        <Flex gap={1} wrap="wrap" align="center" fontSize="13px" className="no-print">
          All of this link:
          <Choice
            label="What has become of the whole link"
            value=""
            options={[["", "as each piece says"], ...STATES.map((state) => [state, `is ${state}`] as const)]}
            onChange={(state) => state && become.mutate({ links: [detail.id], state: state as PieceState })}
          />
          {held && (
            <>
              <span>The piece in hand:</span>
              {STATES.map((state) => (
                <Button
                  key={state}
                  size="xs"
                  variant={held.state === state ? "solid" : "outline"}
                  aria-pressed={held.state === state}
                  onClick={() => become.mutate({ keys: [held.key], state })}
                >
                  {state}
                </Button>
              ))}
            </>
          )}
        </Flex>
        {held ? (
          <BuiltDetail piece={held} />
        ) : (
          <Text fontSize="13px" color="fg.muted" mt={1}>
            Select a piece: what its length is made of, what is bought for it, and what its label says at both ends.
          </Text>
        )}
        <SchoolsView detail={detail} edit={edit} />
      </Box>
    </Box>
  );
}

function Under({
  place,
  piece,
  unit,
  onSelect,
}: {
  place: Place;
  piece: BuiltPiece | undefined;
  unit: "m" | "ft";
  onSelect: (id: string) => void;
}) {
  const full = piece !== undefined && FULL.includes(piece.state);
  const quiet = piece !== undefined && piece.buys.length === 0 && !piece.label;
  return (
    <Box
      as="button"
      position="absolute"
      left={`${place.x}px`}
      width={`${place.w}px`}
      top="4px"
      textAlign="center"
      fontSize="11px"
      lineHeight="14px"
      overflow="hidden"
      title={place.id}
      onClick={() => onSelect(place.id)}
    >
      <svg width="14" height="14" aria-hidden style={{ margin: "0 auto" }}>
        <circle cx="7" cy="7" r="5" fill={full ? "currentColor" : "none"} stroke="currentColor" strokeWidth="1.4" />
        {piece?.state === "ordered" && <path d="M7 2v10" stroke="currentColor" />}
        {piece?.state === "delivered" && <path d="M7 2a5 5 0 0 1 0 10z" fill="currentColor" />}
      </svg>
      {piece && !quiet && (
        <>
          {place.w >= 44 && <div>{piece.state}</div>}
          <div className="figures">
            {piece.length ? lengthText(piece.made ? piece.length.made_m : piece.length.total_m, unit) : ""}
          </div>
          <div className="figures" style={{ fontWeight: 600, overflowWrap: "anywhere" }}>
            {piece.label}
          </div>
          {piece.arrived.length > 0 && <div style={{ fontWeight: 600 }}>came otherwise</div>}
        </>
      )}
    </Box>
  );
}
