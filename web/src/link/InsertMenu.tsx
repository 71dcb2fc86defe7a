import { Box, Button, Flex } from "@chakra-ui/react";
import { useState } from "react";

import { type Element, call } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { type EditWish } from "./queries";
import { useCatalog } from "../shared/queries";

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
  const kinds = useCatalog().data?.kinds.filter((spec) => spec.insertable) ?? [];

  async function insert(kind: string) {
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
          {kinds.map(({ kind, title }) => (
            <Button key={kind} size="xs" variant="subtle" onClick={() => void insert(kind)}>
              {title}
            </Button>
          ))}
        </Flex>
      )}
      <ProblemNote error={error} />
    </Box>
  );
}
