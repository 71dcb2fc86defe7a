import { Box, Button, Flex } from "@chakra-ui/react";
import { useState } from "react";

import { type Element, type Kind, call } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import type { EditWish } from "../shared/queries";
import { kindName } from "./names";

const KINDS: Exclude<Kind, "port">[] = [
  "cord",
  "panel",
  "run",
  "splice",
  "pigtail",
  "attenuator",
  "module",
  "twisted",
  "outlet",
  "jack",
  "assembly",
];

/** Puts a piece in beside the one in hand; the api makes it fit its neighbors. */
export function InsertMenu({
  linkId,
  after,
  label,
  edit,
}: {
  linkId: number;
  after: string;
  label: string;
  edit: (wish: EditWish) => void;
}) {
  const [open, setOpen] = useState(false);
  const [error, setError] = useState<unknown>(null);

  async function insert(kind: Kind) {
    try {
      const piece = await call<Element>(`/links/${linkId}/fitting?after=${encodeURIComponent(after)}&kind=${kind}`);
      edit({ edits: [{ op: "insert", after, piece }], label: `insert ${kind}` });
      setOpen(false);
    } catch (problem) {
      setError(problem);
    }
  }

  return (
    <Box>
      <Button size="xs" variant="outline" aria-expanded={open} onClick={() => setOpen(!open)}>
        {label}
      </Button>
      {open && (
        <Flex gap={1} wrap="wrap" mt={1} role="group" aria-label={`${label}: kind of piece`}>
          {KINDS.map((kind) => (
            <Button key={kind} size="xs" variant="subtle" onClick={() => void insert(kind)}>
              {kindName(kind)}
            </Button>
          ))}
        </Flex>
      )}
      <ProblemNote error={error} />
    </Box>
  );
}
