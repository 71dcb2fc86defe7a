import { Heading, Table, Text } from "@chakra-ui/react";

import type { Identified } from "../shared/api";
import { PlainTable } from "../shared/PlainTable";
import { lengthText, rateText, sourceText } from "../shared/format";
import { useSettings } from "../shared/settings";

const RATES = [1000, 10_000, 25_000, 100_000];

interface Props {
  found: Identified;
  likely: Identified["candidates"];
}

/** What a found cable carries: whichever of the likely grades it is, and each of them by itself. */
export function Carries({ found, likely }: Props) {
  const { unit } = useSettings();
  return (
    <>
      <Heading as="h2" size="sm" fontWeight={600} mt={4}>
        What it carries, whichever of the likely ones it is
      </Heading>
      <Table.Root size="sm" aria-label="What it carries">
        <Table.Body>
          {found.carries.map((line) => (
            <Table.Row key={line.application} bg="transparent">
              <Table.Cell px={1} py="2px" className="figures" whiteSpace="nowrap">
                {line.application}
              </Table.Cell>
              <Table.Cell px={1} py="2px" whiteSpace="nowrap">
                {rateText(line.rate_mbps)}
              </Table.Cell>
              <Table.Cell px={1} py="2px" textAlign="end" className="figures" whiteSpace="nowrap">
                {lengthText(line.reach_m, unit)}
              </Table.Cell>
              <Table.Cell px={1} py="2px" fontSize="12.5px" color="fg.muted">
                as {line.worst_grade}
                {line.limited_by === "loss"
                  ? ", by its own loss: two mated pairs and the most that the glass loses"
                  : ", by the table"}
                {line.offset_launch ? ", with offset-launch cords" : ""}; {sourceText(line.source)}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
      {likely.length > 1 && likely.length <= 8 && (
        <>
          <Heading as="h2" size="sm" fontWeight={600} mt={4}>
            And each of them by itself, farthest at each speed
          </Heading>
          <PlainTable
            label="What each carries"
            head={["glass", ...RATES.map(rateText)]}
            figures={RATES.map((_, i) => i + 1)}
            rows={likely.map((candidate) => ({
              key: candidate.grade,
              cells: [
                candidate.grade,
                ...RATES.map((rate) => {
                  const far = found.each.find((line) => line.grade === candidate.grade && line.rate_mbps === rate);
                  return far ? lengthText(far.reach_m, unit) : "no";
                }),
              ],
            }))}
          />
        </>
      )}
      {found.carries.length === 0 && (
        <Text fontSize="13px">Nothing runs on all that it may be: find out more first.</Text>
      )}
    </>
  );
}
