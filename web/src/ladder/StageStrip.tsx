import { Button, Flex, Text } from "@chakra-ui/react";

import type { LinkRow } from "../shared/api";
import { grouped } from "../shared/grouped";
import { STAGES } from "./order";

/** The stages of the job with the number of links that have their next work there; press one to see them. */
export function StageStrip({
  rows,
  stage: shown,
  onStage,
}: {
  rows: readonly LinkRow[];
  stage: string;
  onStage: (stage: string) => void;
}) {
  const counts = grouped(rows, (row) => row.stage);
  return (
    <Flex role="group" aria-label="Stages" gap={1} pb={2} align="center" wrap="wrap" fontSize="12.5px">
      <Text color="fg.muted">next work:</Text>
      {STAGES.map((stage) => {
        const count = counts.get(stage)?.length ?? 0;
        return (
          <Button
            key={stage}
            size="2xs"
            variant={shown === stage ? "solid" : "outline"}
            aria-pressed={shown === stage}
            disabled={count === 0}
            onClick={() => onStage(shown === stage ? "" : stage)}
          >
            {stage} {count > 0 && <span className="figures">{count}</span>}
          </Button>
        );
      })}
    </Flex>
  );
}
