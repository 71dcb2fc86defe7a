import { Box, Text } from "@chakra-ui/react";

import { PlainTable } from "../shared/PlainTable";
import { lengthText, rateText, sourceText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { ReachBars } from "./ReachBars";
import type { ReferencePart } from "./part";
import { reachRows } from "./reachRows";

const unbroken = (words: string) => <span style={{ whiteSpace: "nowrap" }}>{words}</span>;

/** How far each application goes on each grade: as bars on one scale, then with the clause. */
export function ReachTable({ catalog, fits }: ReferencePart) {
  const { unit } = useSettings();
  const rows = reachRows(catalog).filter((row) => fits(row.application, row.fiber, rateText(row.rate_mbps)));
  if (rows.length === 0)
    return (
      <Text mt={2}>No row has all these words. What is not offered, and why, stands on the Catalog page.</Text>
    );
  return (
    <>
      <ReachBars rows={rows} catalog={catalog} />
      <Box mt={4}>
        <PlainTable
          label="Reach"
          head={["application", "speed", "glass", "reach", "at least", "channel loss", "launch", "from"]}
          figures={[3, 4, 5]}
          rows={rows.map((row) => {
            const told = catalog.applications
              .find((one) => one.name === row.application)
              ?.reaches.find((one) => one.fiber === row.fiber);
            return {
              key: row.key,
              cells: [
                unbroken(row.application),
                unbroken(rateText(row.rate_mbps)),
                unbroken(row.fiber),
                row.carried_m < row.reach_m
                  ? `${lengthText(row.carried_m, unit)} by its loss; ${lengthText(row.reach_m, unit)} in the table`
                  : lengthText(row.reach_m, unit),
                row.least_m > 0 ? lengthText(row.least_m, unit) : "",
                told ? `${told.max_insertion_loss_db.toFixed(2)} dB` : "",
                told && told.launch !== "any" ? told.launch : "",
                told ? sourceText(told.source) : "",
              ],
            };
          })}
        />
      </Box>
    </>
  );
}
