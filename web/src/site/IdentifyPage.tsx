import { Box, Button, Flex, Heading, Input, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useNavigate } from "react-router";

import type { Evidence, Project } from "../shared/api";
import { PlainTable } from "../shared/PlainTable";
import { ProblemNote } from "../shared/ProblemNote";
import { lengthText, rateText, sourceText } from "../shared/format";
import { useCatalog, useIdentify } from "../shared/queries";
import { useSettings } from "../shared/settings";
import { useSettled } from "../shared/useSettled";
import { FoundCable } from "./FoundCable";

const RATES = [1000, 10_000, 25_000, 100_000];
const FACES = ["flat", "angled"];

/** What cable is this: press what can be seen; what remains, how likely, and which look decides next. */
export function IdentifyPage({ project }: { project: Project | undefined }) {
  const { unit } = useSettings();
  const navigate = useNavigate();
  const catalog = useCatalog().data;
  const [seen, setSeen] = useState<Evidence>({
    jacket: "",
    connector: "",
    boot: "",
    shape: "",
    polish: "",
    print: "",
    fibers: 0,
    outdoors: null,
  });
  const settled = useSettled(seen);
  const found = useIdentify(settled);
  const stale = found.isPlaceholderData || JSON.stringify(settled) !== JSON.stringify(seen);
  const jackets = [
    ...new Set([
      ...(catalog?.fibers.flatMap((fiber) => fiber.jacket_colors) ?? []).filter((color) => !color.includes("(")),
      ...(catalog?.marks.jacket.silent ?? []),
    ]),
  ];
  const likely = found.data?.candidates.filter((candidate) => candidate.likely) ?? [];
  const rest = found.data?.candidates.filter((candidate) => !candidate.likely) ?? [];
  return (
    <Flex
      as="main"
      flex="1"
      minH={0}
      overflowY="auto"
      direction={{ base: "column", lg: "row" }}
      gap={6}
      px={4}
      py={3}
    >
      <Box width={{ base: "auto", lg: "380px" }} flexShrink={0}>
        <Heading as="h1" size="md" fontWeight={600}>
          What cable is this?
        </Heading>
        <Text color="fg.muted" fontSize="13px">
          Press what can be seen. Colors are hints and weigh; only print that was read excludes.
        </Text>
        <Text fontSize="13px" mt={3} asChild>
          <label htmlFor="print-read">Print on the jacket, even half of it</label>
        </Text>
        <Input
          id="print-read"
          size="lg"
          borderColor="border.emphasized"
          placeholder="50/125 or OM"
          value={seen.print}
          onChange={(event) => setSeen({ ...seen, print: event.target.value })}
        />
        <Chips
          title="Jacket"
          values={jackets}
          value={seen.jacket ?? ""}
          onChange={(jacket) => setSeen({ ...seen, jacket })}
        />
        <Chips
          title="Plugs"
          values={Object.keys(catalog?.marks.connector.colors ?? {})}
          value={seen.connector ?? ""}
          onChange={(connector) => setSeen({ ...seen, connector })}
        />
        <Chips
          title="Boots"
          values={Object.keys(catalog?.marks.connector.colors ?? {})}
          value={seen.boot ?? ""}
          onChange={(boot) => setSeen({ ...seen, boot })}
        />
        <Chips
          title="Plug shape"
          values={(catalog?.connectors ?? []).map((one) => one.name)}
          value={seen.shape ?? ""}
          onChange={(shape) => setSeen({ ...seen, shape })}
        />
        <Chips
          title="Ferrule"
          values={FACES}
          value={seen.polish ?? ""}
          onChange={(polish) => setSeen({ ...seen, polish: polish as Evidence["polish"] })}
        />
        <Chips
          title="Runs"
          values={["indoors", "outdoors"]}
          value={
            seen.outdoors === null || seen.outdoors === undefined ? "" : seen.outdoors ? "outdoors" : "indoors"
          }
          onChange={(where) => setSeen({ ...seen, outdoors: where === "" ? null : where === "outdoors" })}
        />
        <Text fontSize="13px" mt={3} asChild>
          <label htmlFor="fibers-counted">Fibers counted</label>
        </Text>
        <Input
          id="fibers-counted"
          size="lg"
          inputMode="numeric"
          className="figures"
          borderColor="border.emphasized"
          placeholder="not counted"
          value={seen.fibers ? String(seen.fibers) : ""}
          onChange={(event) =>
            setSeen({ ...seen, fibers: Number(event.target.value.replace(/\D/g, "").slice(0, 4)) })
          }
        />
        <Text mt={3} fontSize="13px" borderLeftWidth="3px" borderColor="fg" pl={2}>
          Unplug both ends and confirm darkness with a meter; look at a ferrule through a video scope only, never by
          eye.
        </Text>
      </Box>
      <Box flex="1" minW={0} aria-live="polite" data-testid="identified">
        <ProblemNote error={found.error} />
        {found.data && (
          <>
            <Text fontSize="17px" fontWeight={600}>
              {likely.length > 8
                ? "It may still be any of these"
                : likely.map((candidate) => candidate.grade).join(" or ")}
            </Text>
            {found.data.next_look && <Text>{found.data.next_look}</Text>}
            {found.data.contradictions.map((text) => (
              <Text key={text} fontWeight={600}>
                {text}
              </Text>
            ))}
            <Flex gap={2} wrap="wrap" mt={2} className="figures" fontSize="12.5px">
              {likely.map((candidate) => (
                <span key={candidate.grade}>
                  {candidate.grade} {Math.round(candidate.share * 100)} %
                </span>
              ))}
            </Flex>
            <Text fontSize="12.5px" color="fg.muted">
              {rest.length > 0
                ? `Unlikely, not excluded: ${rest.map((candidate) => candidate.grade).join(", ")}. `
                : ""}
              {found.data.excluded.length > 0 ? `Excluded by print: ${found.data.excluded.join(", ")}. ` : ""}
              Shares rest on an {sourceText(found.data.sources[0]!)}.
            </Text>
            <Button
              mt={2}
              size="sm"
              variant="outline"
              disabled={stale || likely.length > 8}
              onClick={() =>
                navigate(
                  `/links?new=1&glass=${encodeURIComponent(likely.map((candidate) => candidate.grade).join(","))}`,
                )
              }
            >
              Plan a link over it
            </Button>
            <FoundCable
              project={project}
              grades={likely.map((candidate) => candidate.grade)}
              seen={seen}
              stale={stale}
            />
            <Heading as="h2" size="sm" fontWeight={600} mt={4}>
              What it carries, whichever of the likely ones it is
            </Heading>
            <Table.Root size="sm" aria-label="What it carries">
              <Table.Body>
                {found.data.carries.map((line) => (
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
                        const far = found.data.each.find(
                          (line) => line.grade === candidate.grade && line.rate_mbps === rate,
                        );
                        return far ? lengthText(far.reach_m, unit) : "no";
                      }),
                    ],
                  }))}
                />
              </>
            )}
            {found.data.carries.length === 0 && (
              <Text fontSize="13px">Nothing runs on all that it may be: find out more first.</Text>
            )}
          </>
        )}
      </Box>
    </Flex>
  );
}

function Chips({
  title,
  values,
  value,
  onChange,
}: {
  title: string;
  values: string[];
  value: string;
  onChange: (value: string) => void;
}) {
  return (
    <Box mt={3} role="group" aria-label={title}>
      <Text fontSize="13px">{title}</Text>
      <Flex gap={1} wrap="wrap">
        {values.map((name) => (
          <Button
            key={name}
            size="md"
            variant={name === value ? "solid" : "outline"}
            aria-pressed={name === value}
            onClick={() => onChange(name === value ? "" : name)}
          >
            {name}
          </Button>
        ))}
      </Flex>
    </Box>
  );
}
