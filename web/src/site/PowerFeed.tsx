import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { Choice } from "../shared/Choice";
import { PlainTable } from "../shared/PlainTable";
import { ProblemNote } from "../shared/ProblemNote";
import { VerdictMark } from "../shared/VerdictMark";
import type { FeedResult } from "../shared/api";
import { lengthText, sourceText, withUnit } from "../shared/format";
import { useSettings } from "../shared/settings";
import { useSettled } from "../shared/useSettled";
import { FeedDrawing } from "./FeedDrawing";
import { useRemotePower } from "./queries";

const FIELDS = [
  ["source_v", "supply", "V", "such as 48"],
  ["length_m", "one way", "", "such as 250"],
  ["peak_w", "at the device, peak", "W", "such as 15"],
  ["device_min_v", "device needs", "V", "not known"],
  ["typical_w", "at the device usually", "W", "not known"],
  ["source_max_a", "supply gives at most", "A", "not known"],
  ["rated_a", "conductor rated for", "A", "not known"],
  ["hottest_c", "hottest", "°C", "40 taken"],
] as const;
type Field = (typeof FIELDS)[number][0];
/** What the drawing shows while nothing is typed, so that one sees what will be answered. */
const EXAMPLE = { source_v: "48", length_m: "250 m", peak_w: "15" } as const;
const NEEDED = FIELDS.filter(([key]) => key in EXAMPLE);

const EMPTY = Object.fromEntries(FIELDS.map(([key]) => [key, ""])) as Record<Field, string>;

/** Two conductors to a device: what was typed, the voltage along them, and what each size of conductor does. */
export function PowerFeed() {
  const { unit } = useSettings();
  const [feed, setFeed] = useState(EMPTY);
  const [picked, setPicked] = useState("");
  const typed = Object.fromEntries(
    FIELDS.filter(([key]) => feed[key].trim() !== "").map(([key]) => [
      key,
      key === "length_m" ? withUnit(feed[key], unit) : feed[key].trim(),
    ]),
  );
  const settled = useSettled(typed);
  const missing = NEEDED.filter(([key]) => settled[key] === undefined);
  const open = missing.length > 0;
  // Two questions, so that an example never stands in the place of an answer that is on its way.
  const example = useRemotePower(open ? { ...EXAMPLE, ...settled } : {}, open);
  const answer = useRemotePower(open ? {} : settled, !open);
  const found = open ? example : answer;
  const rows = found.data?.rows ?? [];
  const best =
    rows.find((row) => row.verdict === "pass") ?? rows.find((row) => row.verdict === "unknown") ?? rows.at(-1);
  const chosen = rows.find((row) => row.conductor === picked) ?? best;
  return (
    <>
      <Flex gap={3} wrap="wrap" mt={2} fontSize="13px">
        {FIELDS.map(([key, words, sign, hint]) => (
          <label key={key}>
            {words}{" "}
            <Input
              size="xs"
              width="92px"
              className="figures"
              aria-label={`${words}${sign ? ` ${sign}` : ""}`}
              borderColor="border.emphasized"
              placeholder={hint}
              value={feed[key]}
              onChange={(event) => setFeed({ ...feed, [key]: event.target.value })}
            />{" "}
            {sign || unit}
          </label>
        ))}
      </Flex>
      <ProblemNote error={found.error} />
      {missing.length > 0 && (
        <Text fontSize="13px" mt={2} data-testid="feed-example">
          <b>An example</b>, until it is typed:{" "}
          {missing.map(([key, words]) => `${words} ${exampleText(key)}`).join(", ")}. The rest may stay empty; what
          is then not checked is said.
        </Text>
      )}
      {!found.data && !found.error && <Box minH="312px" aria-hidden />}
      {chosen && found.data && (
        <Box mt={2} opacity={missing.length > 0 ? 0.75 : 1}>
          <Flex gap={2} align="center" fontSize="13px" wrap="wrap">
            drawn over
            <Choice
              label="Conductor drawn"
              value={chosen.conductor}
              options={rows.map((row) => [row.conductor, row.conductor])}
              onChange={setPicked}
            />
            <VerdictMark verdict={chosen.verdict} /> {missing.length > 0 ? "in this example: " : ""}
            {chosen.verdict}, {lengthText(found.data.feed.length_m, unit)} one way
          </Flex>
          <FeedDrawing
            rows={rows}
            chosen={chosen.conductor}
            supply_v={found.data.feed.source_v}
            length_m={found.data.feed.length_m}
            needs_v={found.data.feed.device_min_v ?? null}
            usual={settled.typical_w !== undefined}
          />
        </Box>
      )}
      {found.data && missing.length === 0 && <Sizes rows={rows} usual={settled.typical_w !== undefined} />}
    </>
  );
}

const exampleText = (key: Field): string => (key === "source_v" ? "48 V" : key === "length_m" ? "250 m" : "15 W");

/** Every size of conductor in figures. */
function Sizes({ rows, usual }: { rows: readonly FeedResult[]; usual: boolean }) {
  const { unit } = useSettings();
  return (
    <Box mt={2} data-testid="feeds">
      <PlainTable
        label="Conductors"
        head={["conductor", "loop", "V at the peak", "A at the peak", "V usually", "verdict", "reaches", "why"]}
        figures={[1, 2, 3, 4, 6]}
        rows={rows.map((row) => ({
          key: row.conductor,
          strong: row.verdict === "pass",
          cells: [
            row.conductor,
            `${row.loop_ohm.toFixed(2)} Ω`,
            row.peak_v == null ? "none" : row.peak_v.toFixed(1),
            row.peak_a == null ? "" : row.peak_a.toFixed(2),
            !usual ? "" : row.typical_v == null ? "none" : row.typical_v.toFixed(1),
            <Flex key="verdict" gap={1} align="center">
              <VerdictMark verdict={row.verdict} /> {row.verdict}
            </Flex>,
            row.reach_m == null ? "any" : lengthText(Math.floor(row.reach_m), unit),
            row.why,
          ],
        }))}
      />
      <Text fontSize="12px" color="fg.muted">
        V² − V·Vs + P·R = 0, R out and back at the hottest.{" "}
        {[...new Set(rows.map((row) => sourceText(row.source)))].join("; ")}
      </Text>
    </Box>
  );
}
