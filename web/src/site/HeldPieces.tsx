import { Box, Button, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";

import { PieceFields } from "../link/fields/PieceFields";
import type { Catalog, Element } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { kindName } from "../shared/kinds";
import { type SharedShelf, heldGroups, withHeld } from "./held";
import type { Row } from "./rows";

interface Props {
  shelf: SharedShelf;
  row: Row;
  catalog?: Catalog;
  /** Stores the row; answers with why not, or null. */
  store: (row: Row, label: string) => Promise<unknown>;
}

/** What a shared part or the holes of a frame hold, changed for every link on it. */
export function HeldPieces({ shelf, row, catalog, store }: Props) {
  const [open, setOpen] = useState(false);
  const [error, setError] = useState<unknown>(null);
  const groups = heldGroups(shelf, row);
  if (groups.length === 0) return null;
  if (!open)
    return (
      <Button size="2xs" variant="outline" mt={1} mr={2} onClick={() => setOpen(true)}>
        Change what {row.name} holds
      </Button>
    );
  const change = async (old: Element, values: Record<string, unknown>) =>
    setError(await store(withHeld(shelf, row, old, values), `${row.name}: set ${Object.keys(values).join(", ")}`));
  return (
    <Box as="section" aria-label={`What ${row.name} holds`} borderWidth="1px" p={3} mt={2} maxW="340px">
      <Text fontSize="12.5px" color="fg.muted">
        A change here is one for every link that stands on {row.name}.
      </Text>
      {groups.map(({ piece, count }, at) => (
        <Box key={at} mt={2}>
          <Heading as="h3" size="xs" fontWeight={600}>
            {shelf === "frames" ? `${count} × ` : ""}
            {kindName(piece.kind)}
          </Heading>
          <PieceFields piece={piece} catalog={catalog} set={(values) => change(piece, values)} />
        </Box>
      ))}
      <ProblemNote error={error} />
      <Button size="2xs" variant="ghost" mt={2} onClick={() => setOpen(false)}>
        Close
      </Button>
    </Box>
  );
}
