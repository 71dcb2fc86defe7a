import { Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { Bars } from "../draw/Bars";
import { lengthScale } from "../draw/scale";
import { jacketColor } from "../shared/colors";
import type { Catalog } from "../shared/api";
import { lengthText, rateText } from "../shared/format";
import { useSettings } from "../shared/settings";
import type { ReachRow } from "./reachRows";
import { useLength } from "./queries";
import { useSettled } from "../shared/useSettled";
import { ProblemNote } from "../shared/ProblemNote";

/** Rows that are drawn at once; words in the field above narrow them. */
const SHOWN = 60;

/** Reach as bars on one length scale, a row for each application and grade; the length in hand is a line across. */
export function ReachBars({ rows, catalog }: { rows: readonly ReachRow[]; catalog: Catalog }) {
  const { unit } = useSettings();
  const [typed, setTyped] = useState("");
  const [all, setAll] = useState(false);
  const read = useLength(useSettled(typed.trim()), unit);
  const inHand = typed.trim() === "" || !read.data ? null : read.data;
  const lengths = rows.map((row) => row.reach_m);
  const scale = lengthScale(
    "tenfold",
    [Math.min(10, ...lengths), Math.max(1000, ...lengths, inHand ?? 0)],
    [0, 1],
    unit,
  );
  const reaches = (row: ReachRow) => inHand === null || (row.carried_m >= inHand && row.least_m <= inHand);
  const shown = all ? rows : rows.slice(0, SHOWN);
  return (
    <>
      <Flex gap={3} align="center" wrap="wrap" mt={2} fontSize="13px">
        <label>
          length in hand{" "}
          <Input
            size="xs"
            width="110px"
            className="figures"
            aria-label="Length in hand"
            placeholder={unit === "ft" ? "1000 ft" : "320 m"}
            borderColor="border.emphasized"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
        </label>
        <span role="status">
          {inHand !== null &&
            `${rows.filter(reaches).length} of ${rows.length} rows reach ${lengthText(inHand, unit)}`}
        </span>
        <span>
          by the table and the glass's own loss with two mated pairs: the pieces of a link decide; each step is ten
          times as far; the jacket color is the grade's first one, a hint
        </span>
      </Flex>
      {typed.trim() !== "" && <ProblemNote error={read.error} />}
      <Bars
        label="Reach by application and grade"
        testid="reach-bars"
        ticks={scale.ticks.map(({ m, words }) => ({ at: scale.at(m), words }))}
        lines={inHand === null ? [] : [{ at: scale.at(inHand), words: `in hand, ${lengthText(inHand, unit)}` }]}
        rows={shown.map((row) => ({
          key: row.key,
          name: (
            <>
              <span className="figures">{row.application}</span> {row.fiber}
            </>
          ),
          strong: inHand !== null && reaches(row),
          words: `${row.application} at ${rateText(row.rate_mbps)} on ${row.fiber}: ${lengthText(row.carried_m, unit)}${
            row.carried_m < row.reach_m ? ` by its loss, ${lengthText(row.reach_m, unit)} in the table` : ""
          }${inHand === null ? "" : reaches(row) ? ", reaches" : ", does not reach"}`,
          parts: [
            ...(row.carried_m < row.reach_m
              ? [{ from: scale.at(row.carried_m), to: scale.at(row.reach_m), look: "open" as const }]
              : []),
            {
              from: scale.at(row.least_m),
              to: scale.at(row.carried_m),
              look: "full" as const,
              color: jacketColor([row.fiber], catalog),
            },
          ],
          end: `${lengthText(row.carried_m, unit)}${inHand !== null && !reaches(row) ? " ×" : ""}`,
        }))}
      />
      {rows.length > SHOWN && (
        <Text fontSize="13px">
          {all ? "All rows. " : `The first ${SHOWN} of ${rows.length}: type words above to narrow them. `}
          <button type="button" style={{ textDecoration: "underline" }} onClick={() => setAll(!all)}>
            {all ? "Only the first" : "Draw all"}
          </button>
        </Text>
      )}
    </>
  );
}
