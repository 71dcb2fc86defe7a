import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { BulkChange, Catalog } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { LOSS_CLASSES } from "../shared/generated/lists";
import { useBulk, useBulkPreview } from "./queries";
import { useCatalog } from "../shared/queries";

type Kind = BulkChange["change"];
const KINDS: [Kind, string][] = [
  ["application", "application"],
  ["grade", "grade of all glass"],
  ["loss class", "loss class of panels"],
];

function options(kind: Kind, catalog: Catalog | undefined): [string, string][] {
  if (kind === "application") return catalog?.applications.map((a) => [a.name, a.name]) ?? [];
  if (kind === "grade") return catalog?.fibers.map((f) => [f.name, f.name]) ?? [];
  return LOSS_CLASSES.map(([name, words]) => [name, words]);
}

function made(kind: Kind, value: string): BulkChange {
  if (kind === "application") return { change: "application", application: value };
  if (kind === "grade") return { change: "grade", grade: value };
  return { change: "loss class", loss_class: value as "mated pair" };
}

/** One change for all chosen links: what it does is shown first, and one undo takes it back. */
export function BulkBar({
  projectId,
  chosen,
  onDone,
}: {
  projectId: number;
  chosen: number[];
  onDone: () => void;
}) {
  const catalog = useCatalog().data;
  const [kind, setKind] = useState<Kind>("application");
  const [value, setValue] = useState("");
  const wish = { links: chosen, change: made(kind, value) };
  const preview = useBulkPreview(projectId, wish, value !== "");
  const bulk = useBulk(projectId);
  const verdicts = preview.data?.verdicts ?? [];
  return (
    <Box as="section" aria-label="Change the chosen links" borderWidth="1px" bg="bg.subtle" px={3} py={2} mb={2}>
      <Flex gap={3} align="center" wrap="wrap">
        <Text fontWeight={600}>{chosen.length} chosen: set</Text>
        <Choice
          label="What to set"
          value={kind}
          options={KINDS}
          onChange={(next) => {
            setKind(next as Kind);
            setValue("");
          }}
        />
        <Choice
          label="Value"
          value={value}
          options={[["", "choose"], ...options(kind, catalog)]}
          onChange={setValue}
        />
        <Button
          size="xs"
          disabled={!preview.data || bulk.isPending}
          onClick={() => bulk.mutate(wish, { onSuccess: onDone })}
        >
          Change {chosen.length} links
        </Button>
        <Button size="xs" variant="ghost" onClick={onDone}>
          Choose none
        </Button>
      </Flex>
      {value !== "" && preview.data && (
        <Text fontSize="13px" mt={1} data-testid="bulk-effect">
          {verdicts.length === 0
            ? "No verdict changes."
            : `Verdicts: ${verdicts
                .slice(0, 6)
                .map((v) => `${v.name} ${v.before} to ${v.after}`)
                .join("; ")}${verdicts.length > 6 ? ` and ${verdicts.length - 6} more` : ""}.`}
        </Text>
      )}
      <ProblemNote error={preview.error ?? bulk.error} />
    </Box>
  );
}
