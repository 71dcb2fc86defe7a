import { Box, Button, Text } from "@chakra-ui/react";
import { useState } from "react";

import { ProblemNote } from "../shared/ProblemNote";
import { CardHead } from "./CardHead";
import { used } from "./lastUse";
import { usePlanImport } from "./queries";

/** Links of a plan file, added to the project in hand. */
export function PlanCard({ projectId, given }: { projectId: number; given?: { name: string; text: string } }) {
  const plan = usePlanImport(projectId);
  const [file, setFile] = useState(given?.name ?? "");
  const take = (name: string, text: string) => {
    setFile(name);
    plan.mutate(text, { onSuccess: () => used(projectId, "in plan", name) });
  };
  return (
    <Box as="section" aria-label="Links of a plan file" borderWidth="1px" px={3} py={2} mt={3}>
      <CardHead
        title="In: links of a plan file"
        what="Its links are added to this project as one change, which one undo takes back."
        use="in plan"
        projectId={projectId}
      />
      <input
        type="file"
        accept=".json,application/json"
        aria-label="Plan file"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          if (chosen) void chosen.text().then((text) => take(chosen.name, text));
        }}
      />
      {given && !plan.data && (
        <Button size="xs" loading={plan.isPending} onClick={() => take(given.name, given.text)}>
          Add its links: {given.name}
        </Button>
      )}
      {plan.data && (
        <Text role="status">
          {plan.data.added} links were added from {file}.
        </Text>
      )}
      <ProblemNote error={plan.error} />
    </Box>
  );
}
