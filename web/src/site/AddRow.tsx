import { Button } from "@chakra-ui/react";
import { useState } from "react";

import type { Plant } from "../shared/api";
import { NewRowForm } from "./NewRowForm";
import type { Row, Shelf } from "./rows";
import { isReady, newRow } from "./shelves";

interface Props {
  shelf: Shelf;
  plant: Plant;
  rows: readonly Row[];
  store: (rows: Row[], label: string) => Promise<unknown>;
}

/** Adds a row to a table of the plant; where a way or a cable leads is asked first. */
export function AddRow({ shelf, plant, rows, store }: Props) {
  const [adding, setAdding] = useState(false);
  if (adding && (shelf === "ways" || shelf === "cables"))
    return (
      <NewRowForm
        shelf={shelf}
        plant={plant}
        store={(row) => store([...rows, row], `add ${row.name}`)}
        onDone={() => setAdding(false)}
      />
    );
  return (
    <Button
      mt={1}
      size="xs"
      variant="outline"
      hidden={shelf === "parts"}
      disabled={!isReady(shelf, plant)}
      onClick={() => {
        if (shelf === "ways" || shelf === "cables") return setAdding(true);
        const row = newRow(shelf, plant);
        return void store([...rows, row], `add ${row.name}`);
      }}
    >
      Add a {shelf.slice(0, -1)}
    </Button>
  );
}
