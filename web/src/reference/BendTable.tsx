import { Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { Bars } from "../draw/Bars";
import { evenScale, roundUp } from "../draw/scale";
import { PlainTable } from "../shared/PlainTable";
import { ProblemNote } from "../shared/ProblemNote";
import { sourceText } from "../shared/format";
import { useBendLoss } from "./queries";
import { useSettled } from "../shared/useSettled";
import type { ReferencePart } from "./part";

/** What one turn of a radius costs each grade, by its class. */
export function BendTable({ fits }: ReferencePart) {
  const [radius, setRadius] = useState("15");
  const found = useBendLoss(useSettled(radius.trim()));
  const rows = (found.data ?? []).filter((row) => fits(row.grade, row.bend_class));
  const scale = evenScale(0, roundUp(Math.max(...rows.map((row) => row.loss_db ?? 0), 0.1)), 0, 1, 5);
  return (
    <>
      <Heading as="h2" size="sm" fontWeight={600} mt={3}>
        Bends that are too tight
      </Heading>
      <Flex gap={2} align="center" fontSize="13px">
        <label>
          radius{" "}
          <Input
            size="xs"
            width="64px"
            className="figures"
            aria-label="Radius mm"
            borderColor="border.emphasized"
            value={radius}
            onChange={(event) => setRadius(event.target.value)}
          />{" "}
          mm
        </label>
      </Flex>
      <ProblemNote error={found.error} />
      <Bars
        label={`What one turn of ${radius} mm costs`}
        testid="bend-bars"
        ticks={scale.ticks.map((db) => ({ at: scale.at(db), words: `${Number(db.toFixed(2))} dB` }))}
        rows={rows.map((row) => ({
          key: row.grade,
          name: row.grade,
          words: `${row.grade}: ${row.loss_db == null ? "not specified at this radius" : `at most ${row.loss_db.toFixed(3)} dB at ${row.wavelength_nm} nm`}`,
          parts:
            row.loss_db == null
              ? [{ from: 0, to: 1, look: "hatched" as const }]
              : [{ from: 0, to: scale.at(row.loss_db), look: "full" as const }],
          end: row.loss_db == null ? "nothing promised" : `≤ ${row.loss_db.toFixed(3)} dB`,
        }))}
      />
      <PlainTable
        label="Bend loss"
        head={["glass", "class", "one turn costs", "at", "note", "from"]}
        figures={[2, 3]}
        rows={rows.map((row) => ({
          key: row.grade,
          cells: [
            row.grade,
            row.bend_class,
            row.loss_db == null ? "not specified" : `≤ ${row.loss_db.toFixed(3)} dB`,
            row.wavelength_nm ? `${row.wavelength_nm} nm` : "",
            row.certainty,
            sourceText(row.source),
          ],
        }))}
      />
      <Text fontSize="12.5px" color="fg.muted">
        At the longest wavelength of the class. Between two listed radii the tighter one counts; below the tightest
        the class promises nothing.
      </Text>
    </>
  );
}
