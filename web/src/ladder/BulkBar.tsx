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
  const wish = { links: chosen, change: made(kind, value), leave_out: false };
  const preview = useBulkPreview(projectId, wish, value !== "");
  const bulk = useBulk(projectId);
  const verdicts = preview.data?.verdicts ?? [];
  const refused = preview.data?.refused ?? [];
  const able = preview.data?.links ?? 0;
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
          disabled={able === 0 || bulk.isPending}
          onClick={() => bulk.mutate({ ...wish, leave_out: refused.length > 0 }, { onSuccess: onDone })}
        >
          {refused.length > 0 ? `Change the other ${able}` : `Change ${chosen.length} links`}
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
      {value !== "" &&
        refused.slice(0, 4).map((one) => (
          <Text key={one.id} fontSize="13px" borderLeftWidth="3px" borderColor="fg" pl={2}>
            {one.name} cannot take it: {one.why}
          </Text>
        ))}
      {value !== "" && refused.length > 4 && (
        <Text fontSize="13px">{refused.length - 4} more links cannot take it.</Text>
      )}
      <ProblemNote error={preview.error ?? bulk.error} />
    </Box>
  );
}
