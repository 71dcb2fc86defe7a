import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Edit, LinkDetail, Reading } from "../../shared/api";
import { figureText } from "../../shared/format";
import { pieceName } from "../names";
import { ReadingForm } from "./ReadingForm";

interface Props {
  detail: LinkDetail;
  piece: LinkDetail["link"]["elements"][number];
  act: (edit: Edit, label: string) => unknown;
}

/** What was measured over this piece: each reading with what it lacks, and one more. What was read stays; it can be withdrawn. */
export function ReadingsField({ detail, piece, act }: Props) {
  const [open, setOpen] = useState(false);
  const { elements } = detail.link;
  const at = (id: string) => elements.findIndex((e) => e.id === id);
  const here = (detail.link.readings ?? []).filter(
    (reading) => at(reading.start) <= at(piece.id) && at(piece.id) <= at(reading.end),
  );
  return (
    <Box mt={3} as="section" aria-label="Readings" fontSize="13px">
      <Flex justify="space-between" align="baseline">
        <Text fontWeight={600}>Readings</Text>
        <Button size="xs" variant="outline" aria-expanded={open} onClick={() => setOpen(!open)}>
          Write one down
        </Button>
      </Flex>
      {here.length === 0 && !open && (
        <Text color="fg.muted">None. A measured loss takes the place of what is counted on paper.</Text>
      )}
      {here.map((reading) => (
        <ReadingLine key={reading.id} reading={reading} named={(id) => name(elements, id)} act={act} />
      ))}
      {open && (
        <ReadingForm
          elements={elements}
          piece={piece}
          onTake={async (reading) => {
            const refused = await act({ op: "measure", reading }, `reading of ${reading.value_db} dB`);
            if (!refused) setOpen(false);
            return refused;
          }}
        />
      )}
    </Box>
  );
}

const name = (elements: LinkDetail["link"]["elements"], id: string) => {
  const found = elements.find((e) => e.id === id);
  return found ? pieceName(found) : id;
};

function ReadingLine({
  reading,
  named,
  act,
}: {
  reading: Reading;
  named: (id: string) => string;
  act: Props["act"];
}) {
  const way =
    reading.direction === "both"
      ? "both ways"
      : reading.direction
        ? `towards the ${reading.direction}`
        : "direction not said";
  const ends =
    reading.start === reading.end ? named(reading.start) : `${named(reading.start)} to ${named(reading.end)}`;
  return (
    <Box mt={1} textDecoration={reading.withdrawn ? "line-through" : undefined} data-reading={reading.id}>
      <span className="figures">
        {figureText(reading.value_db)} dB
        {reading.uncertainty_db == null ? "" : ` ± ${figureText(reading.uncertainty_db)} dB`}
      </span>
      , {reading.wavelength_nm ? `${reading.wavelength_nm} nm` : "wavelength not said"}, {way}, {ends},{" "}
      {reading.taken_on ?? "date not said"}
      {reading.note ? `. ${reading.note}` : ""}
      {reading.withdrawn ? (
        <Text as="span"> (withdrawn: {reading.withdrawn})</Text>
      ) : (
        <Button
          size="2xs"
          variant="ghost"
          ml={1}
          onClick={() =>
            act(
              { op: "withdraw", reading: reading.id ?? "", why: "withdrawn by hand" },
              `withdraw the reading of ${reading.value_db} dB`,
            )
          }
        >
          Withdraw
        </Button>
      )}
    </Box>
  );
}
