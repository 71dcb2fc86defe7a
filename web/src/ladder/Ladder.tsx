import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";

import { ProblemNote } from "../shared/ProblemNote";
import { useCatalog, useLinks } from "../shared/queries";
import { LadderRow } from "./LadderRow";
import { NewLink } from "./NewLink";
import { matches } from "./order";

const ROW_HEIGHT = 63;

/** All links beside the one in hand: filtered as you type, thousands of them. */
export function Ladder({ projectId, current }: { projectId: number | undefined; current: number | undefined }) {
  const links = useLinks(projectId);
  const catalog = useCatalog().data;
  const navigate = useNavigate();
  const [filter, setFilter] = useState("");
  const box = useRef<HTMLDivElement>(null);
  const rows = useMemo(() => (links.data ?? []).filter((row) => matches(row, filter)), [links.data, filter]);
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
  });

  function walk(event: KeyboardEvent) {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (!step || event.target instanceof HTMLSelectElement) return;
    event.preventDefault();
    const index = rows.findIndex((row) => `ladder-${row.id}` === document.activeElement?.id);
    const next = index < 0 ? 0 : Math.min(Math.max(index + step, 0), rows.length - 1);
    virtual.scrollToIndex(next);
    document.getElementById(`ladder-${rows[next]?.id}`)?.focus();
  }

  return (
    <Flex
      as="nav"
      aria-label="Links"
      direction="column"
      width={{ base: "auto", md: "252px" }}
      maxH={{ base: "34vh", md: "none" }}
      flexShrink={0}
      borderRightWidth={{ md: "1px" }}
      borderBottomWidth={{ base: "1px", md: 0 }}
      onKeyDown={walk}
    >
      <Box flexShrink={0} maxH="80%" overflowY="auto">
        <Flex p={2} gap={2} borderBottomWidth="1px">
          <Input
            id="ladder-filter"
            size="xs"
            placeholder="filter: place, verdict, application"
            aria-label="Filter the links"
            borderColor="border.emphasized"
            value={filter}
            onChange={(event) => setFilter(event.target.value)}
            onKeyDown={(event) => event.key === "Enter" && rows[0] && navigate(`/links/${rows[0].id}`)}
          />
        </Flex>
        <NewLink />
        <ProblemNote error={links.error} />
      </Box>
      <Box ref={box} flex="1" minH={0} overflowY="auto">
        <Box position="relative" height={`${virtual.getTotalSize()}px`}>
          {virtual.getVirtualItems().map((item) => {
            const row = rows[item.index];
            return (
              row && (
                <Box
                  key={row.id}
                  data-index={item.index}
                  ref={virtual.measureElement}
                  position="absolute"
                  top={0}
                  left={0}
                  right={0}
                  style={{ transform: `translateY(${item.start}px)` }}
                >
                  <LadderRow row={row} current={row.id === current} catalog={catalog} />
                </Box>
              )
            );
          })}
        </Box>
        {links.isSuccess && rows.length === 0 && (
          <Text p={3} color="fg.muted" fontSize="13px">
            {filter ? `No link matches "${filter}".` : "No links yet."}
          </Text>
        )}
      </Box>
    </Flex>
  );
}
