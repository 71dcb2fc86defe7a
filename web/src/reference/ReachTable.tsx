import { Text } from "@chakra-ui/react";

import { PlainTable } from "../shared/PlainTable";
import { lengthText, rateText, sourceText } from "../shared/format";
import { useSettings } from "../shared/settings";
import type { ReferencePart } from "./part";

/** How far each application goes on each grade, with the clause. */
export function ReachTable({ catalog, fits }: ReferencePart) {
  const { unit } = useSettings();
  const rows = catalog.applications.flatMap((application) =>
    application.reaches
      .filter((row) => fits(application.name, row.fiber, rateText(application.rate_mbps)))
      .map((row) => ({
        key: `${application.name} ${row.fiber}`,
        cells: [
          application.name,
          rateText(application.rate_mbps),
          row.fiber,
          lengthText(row.reach_m, unit),
          row.min_length_m > 0 ? lengthText(row.min_length_m, unit) : "",
          `${row.max_insertion_loss_db.toFixed(2)} dB`,
          row.launch === "any" ? "" : row.launch,
          sourceText(row.source),
        ],
      })),
  );
  return (
    <>
      <PlainTable label="Reach" head={["application", "speed", "glass", "reach", "at least", "channel loss", "launch", "from"]} figures={[3, 4, 5]} rows={rows} />
      {rows.length === 0 && <Text mt={2}>No row has all these words. Some applications are not offered because their clause could not be confirmed: see the Catalog page.</Text>}
    </>
  );
}
