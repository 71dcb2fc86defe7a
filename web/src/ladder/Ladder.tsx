import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { type KeyboardEvent, useState } from "react";
import { useNavigate } from "react-router";

import { ProblemNote } from "../shared/ProblemNote";
import { useCatalog, useLinks } from "../shared/queries";
import { LadderRow } from "./LadderRow";
import { NewLink } from "./NewLink";
import { matches } from "./order";

/** All links: one row each, filtered as you type. */
export function Ladder({ projectId, current }: { projectId: number | undefined; current: number | undefined }) {
  const links = useLinks(projectId);
  const catalog = useCatalog().data;
  const navigate = useNavigate();
  const [filter, setFilter] = useState("");
  const rows = (links.data ?? []).filter((row) => matches(row, filter));

  function walk(event: KeyboardEvent) {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (!step) return;
    event.preventDefault();
    const index = rows.findIndex((row) => `ladder-${row.id}` === document.activeElement?.id);
    const target = rows[index < 0 ? 0 : Math.min(Math.max(index + step, 0), rows.length - 1)];
    if (target) document.getElementById(`ladder-${target.id}`)?.focus();
  }

  return (
    <Box
      as="nav"
      aria-label="Links"
      width={{ base: "auto", md: "252px" }}
      maxH={{ base: "34vh", md: "none" }}
      flexShrink={0}
      borderRightWidth={{ md: "1px" }}
      borderBottomWidth={{ base: "1px", md: 0 }}
      overflowY="auto"
      onKeyDown={walk}
    >
      <Flex p={2} gap={2} position="sticky" top={0} bg="bg" zIndex={1} borderBottomWidth="1px">
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
      <NewLink projectId={projectId} />
      <ProblemNote error={links.error} />
      {rows.map((row) => (
        <LadderRow key={row.id} row={row} current={row.id === current} catalog={catalog} />
      ))}
      {links.isSuccess && rows.length === 0 && (
        <Text p={3} color="fg.muted" fontSize="13px">
          {filter ? `No link matches "${filter}".` : "No links yet."}
        </Text>
      )}
    </Box>
  );
}
