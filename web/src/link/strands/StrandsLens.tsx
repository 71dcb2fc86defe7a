import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { type KeyboardEvent, useRef, useState } from "react";

import type { Fix, LinkDetail, StrandTable, Trial } from "../../shared/api";
import { Waiting } from "../../shared/Waiting";
import type { Place } from "../layout";
import { pieceName } from "../names";
import { useStrands, useTriedStrands } from "../queries";
import { FaceFront } from "./FaceFront";
import { LaneRow, ROW } from "./LaneRow";
import { type Cell, cellText, faceX, moved } from "./cells";

interface Props {
  detail: LinkDetail;
  places: readonly Place[];
  width: number;
  available: number;
  onSelect: (id: string) => void;
  /** The fix under the hand: its effect is drawn before it is taken. */
  tried: Fix | null;
}

/** Where each lane passes each face, under the pieces: numbers with their colors, transmit to receive. */
export function StrandsLens({ detail, places, width, available, onSelect, tried }: Props) {
  const { data: now } = useStrands(detail);
  const trial = useTriedStrands(detail, tried).data;
  const table = tried && trial ? trial.table : now;
  const [cell, setCell] = useState<Cell>({ row: 0, column: 0 });
  const [alone, setAlone] = useState(false);
  const box = useRef<HTMLDivElement>(null);
  if (!table) return <Waiting on words="Following each lane" />;
  if (table.lanes.length === 0)
    return (
      <Text py={8} color="fg.muted" data-testid="strands-lens">
        {table.why_not}
      </Text>
    );
  const names = new Map(detail.link.elements.map((e) => [e.id, pieceName(e)]));
  const at = inside(cell, table);
  const wrong = tried && trial ? null : wrongPlace(detail, table);
  const go = (event: KeyboardEvent) => {
    const next = moved(at, event.key, table);
    if (!next) return;
    event.preventDefault();
    setCell(next);
    box.current?.querySelector<HTMLElement>(`[data-cell="${next.row}-${next.column}"]`)?.focus();
  };
  const band = places.find((place) => place.id === wrong?.id);
  const face = table.faces[at.column];
  return (
    <Box data-testid="strands-lens" ref={box}>
      <Flex gap={2} align="center" position="sticky" left={0} width={`${available}px`} mb={1} wrap="wrap">
        <Text color="fg.muted" fontSize="12px">
          position at each face, in the colors of TIA-598; T sends, R listens; arrow keys follow a lane
        </Text>
        <Button size="xs" variant="outline" aria-pressed={alone} onClick={() => setAlone(!alone)}>
          {alone ? "All lanes" : "This lane alone"}
        </Button>
      </Flex>
      {tried && trial && <Tried fix={tried} trial={trial} />}
      <svg width={width} height={table.lanes.length * ROW + 22} role="group" aria-label="Lanes along the link">
        {band && (
          <g>
            <rect
              x={band.x}
              y="0"
              width={band.w}
              height={table.lanes.length * ROW + 22}
              fill="var(--chakra-colors-bg-muted)"
              stroke="var(--chakra-colors-fg)"
              strokeDasharray="4 3"
            />
            <text
              x={band.x + band.w / 2}
              y={table.lanes.length * ROW + 17}
              fontSize="11.5"
              textAnchor="middle"
              fill="var(--chakra-colors-fg)"
            >
              {wrong?.words}
            </text>
          </g>
        )}
        {table.lanes.map((lane, row) => (
          <LaneRow
            key={`${lane.sender} ${lane.number}`}
            lane={lane}
            faces={table.faces}
            xs={table.faces.map((one) => faceX(one, places))}
            y={row * ROW + ROW / 2}
            dim={alone && row !== at.row}
            focused={row === at.row ? at.column : null}
            row={row}
            text={(column) => cellText(table, row, column, names)}
            onFocus={(column) => setCell({ row, column })}
            onKey={go}
            onSelect={onSelect}
          />
        ))}
      </svg>
      {face && (
        <FaceFront
          face={face}
          name={names.get(face.element) ?? face.element}
          lanes={table.lanes.map((lane) => ({ lane, position: lane.positions[at.column] ?? null }))}
          chosen={table.lanes[at.row]?.positions[at.column] ?? null}
        />
      )}
    </Box>
  );
}

/** That the lens shows a fix that is not taken yet, and what it does to other links on the same part. */
function Tried({ fix, trial }: { fix: Fix; trial: Trial }) {
  const worse = trial.elsewhere.filter((one) => one.after !== one.before);
  return (
    <Text fontSize="12.5px" role="status">
      <b>If you take it:</b> {fix.label}.{" "}
      {trial.elsewhere.length > 0 &&
        (worse.length > 0
          ? `The part is shared: ${worse.map((one) => `${one.name} ${one.before} → ${one.after}`).join(", ")}.`
          : `The part is shared; ${trial.elsewhere.length} other links stay as they are.`)}
    </Text>
  );
}

const inside = (cell: Cell, table: StrandTable): Cell => ({
  row: Math.min(cell.row, table.lanes.length - 1),
  column: Math.min(cell.column, table.faces.length - 1),
});

/** The piece that the cheapest repair changes, else where light is lost, else the receiver that hears nothing. */
function wrongPlace(detail: LinkDetail, table: StrandTable): { id: string; words: string } | null {
  const dark = table.lanes.find((lane) => !lane.lights);
  if (!dark) return null;
  const finding = detail.review.findings.find((one) => one.code.startsWith("polarity.") && one.best);
  const edit = finding?.fixes?.[0]?.edits.find((one) => "element" in one);
  if (edit && "element" in edit) return { id: edit.element, words: "cheapest change" };
  return { id: dark.lost_at || dark.receiver, words: dark.lost_at ? "lost here" : "wrong here" };
}
