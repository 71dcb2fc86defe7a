import { Text } from "@chakra-ui/react";

import { PlainTable } from "../shared/PlainTable";
import { lengthText, rateText, sourceText } from "../shared/format";
import { useSettings } from "../shared/settings";
import type { ReferencePart } from "./part";

/** How far each application goes on each grade, with the clause. */
export function ReachTable({ catalog, fits }: ReferencePart) {
  const { unit } = useSettings();
  /** The nearer of the table's reach and of what the glass's own loss leaves for two mated pairs. */
  const carried = (application: string, fiber: string) => {
    const byLoss = catalog.carries.find((line) => line.application === application && line.fiber === fiber);
    const row = catalog.applications
      .find((one) => one.name === application)
      ?.reaches.find((one) => one.fiber === fiber);
    return byLoss
      ? `${lengthText(byLoss.reach_m, unit)} by its loss; ${lengthText(row?.reach_m, unit)} in the table`
      : lengthText(row?.reach_m, unit);
  };
  const rows = catalog.applications.flatMap((application) =>
    application.reaches
      .filter((row) => fits(application.name, row.fiber, rateText(application.rate_mbps)))
      .map((row) => ({
        key: `${application.name} ${row.fiber}`,
        cells: [
          application.name,
          rateText(application.rate_mbps),
          row.fiber,
          carried(application.name, row.fiber),
          row.min_length_m > 0 ? lengthText(row.min_length_m, unit) : "",
          `${row.max_insertion_loss_db.toFixed(2)} dB`,
          row.launch === "any" ? "" : row.launch,
          sourceText(row.source),
        ],
      })),
  );
  return (
    <>
      <PlainTable
        label="Reach"
        head={["application", "speed", "glass", "reach", "at least", "channel loss", "launch", "from"]}
        figures={[3, 4, 5]}
        rows={rows}
      />
      {rows.length === 0 && (
        <Text mt={2}>No row has all these words. What is not offered, and why, stands on the Catalog page.</Text>
      )}
    </>
  );
}
