import { Button, Flex } from "@chakra-ui/react";

import type { PlantOut } from "../shared/api";
import { rateText } from "../shared/format";

/** What one cut takes, over the links that it takes: which places go dark and what the others keep. */
export function CutNote({ outage, onAll }: { outage?: PlantOut["outages"][number]; onAll: () => void }) {
  return (
    <Flex gap={2} align="center" pb={1} fontSize="13px" data-testid="ladder-cut">
      <b>{outage ? `Cut of ${outage.name}: ${outage.links.length} links go.` : "No link rides on what is cut."}</b>
      {outage?.ends
        .map((end) => (end.dark ? `${end.place} dark` : `${end.place} keeps ${rateText(end.left_mbps)}`))
        .join("; ")}
      <Button size="2xs" variant="outline" onClick={onAll}>
        All links again
      </Button>
    </Flex>
  );
}
