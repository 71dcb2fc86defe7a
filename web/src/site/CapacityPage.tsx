import { Box, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Capacity, Project } from "../shared/api";
import { PlainTable } from "../shared/PlainTable";
import { ProblemNote } from "../shared/ProblemNote";
import { Waiting } from "../shared/Waiting";
import { Choice } from "../shared/Choice";
import { sourceText } from "../shared/format";
import { usePlantQuery } from "../shared/queries";
import { useSettled } from "../shared/useSettled";
import { BarKey, Bars } from "../draw/Bars";
import { CapacityBars } from "./CapacityBars";
import { NothingYet } from "./NothingYet";
import { YearByYear } from "./YearByYear";

const years = (count: number | null | undefined) =>
  count === null || count === undefined ? "beyond 100 years" : count === 0 ? "now" : `in ${count} years`;

/** Strands used, promised and spare, what to pull now, and when ducts are full. */
export function CapacityPage({ project }: { project: Project | undefined }) {
  const [growth, setGrowth] = useState("10");
  const [horizon, setHorizon] = useState("10");
  const query = useSettled({ growth: growth.trim(), years: horizon });
  const [picked, setPicked] = useState("");
  const found = usePlantQuery<Capacity>(project, "capacity", query);
  const cables = found.data?.cables ?? [];
  const cable = cables.find((row) => row.cable === picked) ?? cables.find((row) => row.used > 0) ?? cables[0];
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Heading as="h1" size="md" fontWeight={600}>
        Capacity
      </Heading>
      <Flex gap={3} align="center" fontSize="13px" mt={1}>
        <label>
          growth{" "}
          <Input
            size="xs"
            width="56px"
            className="figures"
            aria-label="Growth in % a year"
            borderColor="border.emphasized"
            value={growth}
            onChange={(event) => setGrowth(event.target.value)}
          />{" "}
          % a year
        </label>
        <label>
          for{" "}
          <Input
            size="xs"
            width="48px"
            className="figures"
            aria-label="Years to plan for"
            borderColor="border.emphasized"
            value={horizon}
            onChange={(event) => setHorizon(event.target.value)}
          />{" "}
          years
        </label>
        <Text color="fg.muted">
          spare strands by the house rule: {project?.house_rules.strand_spares_percent} %
        </Text>
      </Flex>
      <ProblemNote error={found.error} />
      <Waiting on={found.isLoading} words="Counting strands and ducts" />
      {found.data && (
        <>
          {cable && (
            <Box mt={2} maxW="1000px">
              <CapacityBars cables={cables} years={found.data.years} />
              <Flex gap={2} align="center" mt={4} fontSize="13px">
                year by year
                <Choice
                  label="Cable year by year"
                  value={cable.cable}
                  options={cables.map((row) => [row.cable, row.name])}
                  onChange={setPicked}
                />
              </Flex>
              <YearByYear cable={cable} growth={found.data.growth_percent} />
            </Box>
          )}
          {found.data.ducts.length > 0 && <Ducts ducts={found.data.ducts} />}
          {cables.length === 0 ? (
            <NothingYet
              needs="cable"
              shows="each cable as a strip of strands: used, promised, spare, year by year"
            />
          ) : (
            <>
              <Heading as="h2" size="sm" fontWeight={600} mt={4}>
                In figures
              </Heading>
              <PlainTable
                label="Strands"
                head={[
                  "cable",
                  "strands",
                  "used",
                  "promised",
                  "dead",
                  "spare",
                  "spares kept",
                  `wanted in ${found.data.years} years`,
                  "full",
                  "pull now",
                ]}
                figures={[1, 2, 3, 4, 5, 7]}
                rows={found.data.cables.map((row) => ({
                  key: row.cable,
                  strong: !row.keeps_rule,
                  cells: [
                    row.name,
                    row.strands,
                    row.used,
                    row.promised,
                    row.dead,
                    row.spare,
                    row.keeps_rule ? "yes" : "no",
                    row.wanted,
                    years(row.enough_years),
                    row.pull_now ? `${row.pull_now} strands` : row.dead >= row.strands ? "all dead" : "enough",
                  ],
                }))}
              />
              <PlainTable
                label="Ducts in figures"
                head={["duct", "taken", "limit", "room for", "full"]}
                figures={[1, 2, 3]}
                rows={found.data.ducts.map((row) => ({
                  key: row.way,
                  strong: row.share > row.limit,
                  cells: [
                    row.name,
                    `${(row.share * 100).toFixed(0)} %`,
                    `${(row.limit * 100).toFixed(0)} %`,
                    row.more_cables,
                    row.share > row.limit ? "overfull" : years(row.full_in_years),
                  ],
                }))}
              />
              <Text fontSize="12px" color="fg.muted" mt={2}>
                Room is for more of the thickest cable in the duct. {found.data.sources.map(sourceText).join("; ")}
              </Text>
            </>
          )}
        </>
      )}
    </Box>
  );
}

/** The ducts by the share of their bore that is taken, each with its limit. */
function Ducts({ ducts }: { ducts: Capacity["ducts"] }) {
  return (
    <Box mt={4} maxW="1000px">
      <Heading as="h2" size="sm" fontWeight={600}>
        Ducts
      </Heading>
      <BarKey entries={[["full", "area taken"]]} />{" "}
      <span style={{ fontSize: 12 }}>upright mark: the limit by the number of cables in it</span>
      <Bars
        label="Ducts by area"
        ticks={[0, 0.25, 0.5, 0.75, 1].map((at) => ({ at, words: `${at * 100} %` }))}
        rows={ducts.map((row) => ({
          key: row.way,
          name: row.name,
          strong: row.share > row.limit,
          marks: [row.limit],
          words: `${row.name}: ${Math.round(row.share * 100)} % taken of at most ${Math.round(row.limit * 100)} %, room for ${row.more_cables} more, ${row.share > row.limit ? "overfull" : years(row.full_in_years)}`,
          parts: [{ from: 0, to: row.share, look: "full" as const }],
          end: row.share > row.limit ? "× overfull" : `room for ${row.more_cables}`,
        }))}
      />
    </Box>
  );
}
