import { Box } from "@chakra-ui/react";

import { Bars } from "../draw/Bars";
import type { Catalog, Identified } from "../shared/api";
import { jacketColor } from "../shared/colors";

const inPercent = (share: number) => (share > 0 && share < 0.01 ? "<1 %" : `${Math.round(share * 100)} %`);

/** Every grade of the catalog in its order with its share as a bar: with every look some shrink, and stay in their place. */
export function Candidates({
  found,
  grades,
  catalog,
}: {
  found: Identified;
  grades: readonly string[];
  catalog: Catalog | undefined;
}) {
  const by = new Map(found.candidates.map((one) => [one.grade, one]));
  const most = Math.max(...found.candidates.map((one) => one.share), 0.01);
  return (
    <Box mt={2} maxW="640px">
      <Bars
        label="What it may be"
        testid="candidates"
        rows={grades.map((grade) => {
          const one = by.get(grade);
          const out = found.excluded.includes(grade);
          const told = out || !one ? "excluded by the print" : inPercent(one.share);
          return {
            key: grade,
            name: grade,
            strong: one?.likely ?? false,
            words: `${grade}: ${told}${one && !one.likely && !out ? ", unlikely, not excluded" : ""}`,
            parts:
              one && !out
                ? [
                    {
                      from: 0,
                      to: one.share / most,
                      look: one.likely ? ("full" as const) : ("open" as const),
                      color: jacketColor([grade], catalog),
                    },
                  ]
                : [],
            end: out ? "× by print" : told,
          };
        })}
      />
    </Box>
  );
}
