import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useCallback, useMemo, useRef, useState } from "react";

import { Hint } from "../app/Hint";
import type { Project } from "../shared/api";
import { Choice } from "../shared/Choice";
import { HiddenTitle } from "../shared/HiddenTitle";
import { ProblemNote } from "../shared/ProblemNote";
import { useCatalog, useLinkCount, useLinks, usePlant } from "../shared/queries";
import { useAddress } from "../shared/useAddress";
import { BulkBar } from "./BulkBar";
import { CutNote } from "./CutNote";
import { StageStrip } from "./StageStrip";
import { WideRow } from "./WideRow";
import { type GroupBy, type SortBy, arrange } from "./order";

const SORTS: [SortBy, string][] = [
  ["order", "project order"],
  ["name", "name"],
  ["verdict", "worst verdict first"],
  ["margin", "smallest margin first"],
  ["length", "shortest first"],
];
const GROUPS: [GroupBy, string][] = [
  ["none", "no groups"],
  ["place", "by place"],
  ["verdict", "by verdict"],
  ["stage", "by stage"],
];
const ROW_HEIGHT = 34;

/** The ladder: all links of the project, one row each, for thousands of rows. */
export function LadderPage({ project }: { project: Project | undefined }) {
  const links = useLinks(project?.id);
  const count = useLinkCount(project?.id);
  const catalog = useCatalog().data;
  const [params, put] = useAddress();
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const box = useRef<HTMLDivElement>(null);
  const filter = params.get("filter") ?? "";
  const sort = (params.get("sort") ?? "order") as SortBy;
  const group = (params.get("group") ?? "none") as GroupBy;
  const stage = params.get("stage") ?? "";
  const cut = params.get("cut") ?? "";
  const outage = usePlant(cut ? project : undefined).data?.outages.find((one) => `${one.kind}:${one.id}` === cut);
  const lines = useMemo(() => {
    const rows = (links.data ?? []).filter(
      (row) => (stage === "" || row.stage === stage) && (cut === "" || outage?.links.includes(row.id)),
    );
    return arrange(rows, filter, sort, group);
  }, [links.data, filter, sort, group, stage, cut, outage]);
  const rows = useMemo(() => lines.flatMap((line) => (line.kind === "row" ? [line.row.id] : [])), [lines]);
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 6,
  });
  const toggle = useCallback(
    (id: number) =>
      setChosen((before) => {
        const next = new Set(before);
        if (!next.delete(id)) next.add(id);
        return next;
      }),
    [],
  );
  const all = rows.length > 0 && chosen.size >= rows.length && rows.every((id) => chosen.has(id));

  return (
    <Flex as="main" direction="column" flex="1" minH={0} minW={0} px={4} py={2}>
      <HiddenTitle words="Ladder of all links" />
      <Hint name="ladder">
        One row a link. Type to filter, choose rows to change one thing in all of them; what it does is shown first
        and one undo takes it back.
      </Hint>
      <Flex gap={3} align="center" wrap="wrap" pb={2}>
        <Input
          id="ladder-filter"
          size="xs"
          width="260px"
          placeholder="filter: place, verdict, application"
          aria-label="Filter the links"
          borderColor="border.emphasized"
          value={filter}
          onChange={(event) => put("filter", event.target.value)}
        />
        <Choice
          label="Sort"
          value={sort}
          options={SORTS}
          onChange={(value) => put("sort", value === "order" ? "" : value)}
        />
        <Choice
          label="Group"
          value={group}
          options={GROUPS}
          onChange={(value) => put("group", value === "none" ? "" : value)}
        />
        <label>
          <input type="checkbox" checked={all} onChange={() => setChosen(all ? new Set() : new Set(rows))} /> all
          shown
        </label>
        <Text className="figures" fontSize="12px" color="fg.muted">
          {rows.length} of {count} links
          {(links.data?.length ?? 0) < count && `, ${links.data?.length} read so far`}
        </Text>
        <Text fontSize="12px" color="fg.muted">
          bar: margin from zero; dashed: house margin of that link
        </Text>
      </Flex>
      {cut && <CutNote outage={outage} onAll={() => put("cut", "")} />}
      <StageStrip rows={links.data ?? []} stage={stage} onStage={(next) => put("stage", next)} />
      {chosen.size > 0 && project && (
        <BulkBar projectId={project.id} chosen={[...chosen]} onDone={() => setChosen(new Set())} />
      )}
      <ProblemNote error={links.error} />
      <Box ref={box} flex="1" overflowY="auto" borderTopWidth="1px" tabIndex={0} role="group" aria-label="Links">
        {links.isPending && (
          <Text p={3} color="fg.muted">
            Reading the links …
          </Text>
        )}
        {links.isSuccess && lines.length === 0 && (
          <Text p={3} color="fg.muted">
            {filter ? `No link matches "${filter}".` : "No links yet: open any page and press New link."}
          </Text>
        )}
        <Box
          position="relative"
          role={lines.length > 0 ? "list" : undefined}
          aria-label={lines.length > 0 ? "Links of the ladder" : undefined}
          height={`${virtual.getTotalSize()}px`}
        >
          {virtual.getVirtualItems().map((item) => {
            const line = lines[item.index];
            return (
              <div
                key={item.key}
                role="listitem"
                style={{
                  position: "absolute",
                  insetInline: 0,
                  height: ROW_HEIGHT,
                  transform: `translateY(${item.start}px)`,
                }}
              >
                {line?.kind === "head" && (
                  <Text fontWeight={600} pt="9px" borderBottomWidth="1px">
                    {line.text} <span className="figures">{line.count}</span>
                  </Text>
                )}
                {line?.kind === "row" && (
                  <WideRow row={line.row} catalog={catalog} chosen={chosen.has(line.row.id)} onChoose={toggle} />
                )}
              </div>
            );
          })}
        </Box>
      </Box>
    </Flex>
  );
}
