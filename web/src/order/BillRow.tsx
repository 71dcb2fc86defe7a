import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { BillLine, Project } from "../shared/api";
import { useSettings } from "../shared/settings";
import { AskedList } from "./AskedList";
import { LineForm } from "./LineForm";
import { money, quantityText, reckoning } from "./words";

/** A line of the bill: how much, what, what it costs; opened it shows who asks and how the quantity comes about. */
export function BillRow({ line, project }: { line: BillLine; project: Project | undefined }) {
  const { unit } = useSettings();
  const [open, setOpen] = useState(false);
  const back = line.to_order < 0;
  return (
    <Box borderBottomWidth="1px" py="2px" data-line={line.words} css={{ breakInside: "avoid" }}>
      <Flex gap={2} align="baseline" fontSize="13px">
        <Text className="figures" width="66px" textAlign="end" flexShrink={0} fontWeight={600}>
          {quantityText(line.to_order, line, unit)}
        </Text>
        <Box flex="1" minW={0}>
          <Button
            variant="plain"
            size="xs"
            height="auto"
            px={0}
            py="1px"
            fontWeight={400}
            fontSize="13px"
            whiteSpace="normal"
            textAlign="start"
            aria-expanded={open}
            onClick={() => setOpen(!open)}
          >
            <span aria-hidden className="no-print">
              {open ? "▾" : "▸"}
            </span>{" "}
            {line.words}
          </Button>
          {line.bought_as && <Text fontSize="12.5px">by the kept cuts: reels {line.bought_as}</Text>}
          {back && (
            <Text fontSize="12.5px">
              More was ordered than is wanted now: cancel it, send it back, or keep it as stock.
            </Text>
          )}
          {line.quantity !== line.computed && (
            <Text fontSize="12.5px">
              set by hand, {quantityText(line.computed, line, unit)} follows from the links: {line.why}
            </Text>
          )}
          {line.caution && (
            <Text fontSize="12.5px" borderLeftWidth="3px" borderColor="fg" pl={2}>
              {line.caution}
            </Text>
          )}
        </Box>
        <Text className="figures" width="76px" textAlign="end" flexShrink={0} color="fg.muted">
          {line.price_by === "no price"
            ? "no price"
            : `${line.price_by === "estimate" ? "≈ " : ""}${money(line.each)}`}
        </Text>
        <Text className="figures" width="92px" textAlign="end" flexShrink={0}>
          {money(line.total)}
        </Text>
      </Flex>
      {open && (
        <Box pl="74px" pb={2} className="no-print">
          <Text fontSize="12.5px" color="fg.muted">
            {reckoning(line, unit)}.{" "}
            {line.price_by === "quoted"
              ? "The price is quoted."
              : line.price_by === "own list"
                ? "The price is from the project's own list."
                : line.price_by === "no price"
                  ? "It has no price and counts nothing in the sums: put a quoted price on it."
                  : "The price is an estimate."}
          </Text>
          <AskedList line={line} project={project} />
          <LineForm line={line} project={project} />
        </Box>
      )}
    </Box>
  );
}
