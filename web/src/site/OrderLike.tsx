import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { PlugFront } from "../draw/PlugView";
import { Choice } from "../shared/Choice";
import type { Evidence } from "../shared/api";
import { withUnit } from "../shared/format";
import { useCatalog } from "../shared/queries";
import { useSettings } from "../shared/settings";
import { likeLine } from "./likeWords";

interface Props {
  grades: readonly string[];
  seen: Evidence;
  busy: boolean;
  onOrder: (line: { name: string; count: number; why: string }) => void;
}

/** A cord like the one in hand: how long, which plug at each end, how many, and who reads the print where it is open. */
export function OrderLike({ grades, seen, busy, onOrder }: Props) {
  const { unit } = useSettings();
  const catalog = useCatalog().data;
  const plug = `${seen.shape ?? ""}${seen.shape && seen.polish === "angled" ? "/APC" : ""}`;
  const [wish, setWish] = useState({ length: "", near: plug, far: plug, count: "1", reader: "" });
  const shapes = (catalog?.connectors ?? []).flatMap((one) => [
    one.name,
    ...(one.polishes.includes("APC") ? [`${one.name}/APC`] : []),
  ]);
  const options = [
    ["", "which plug?"],
    ...[...new Set([...shapes, ...(plug ? [plug] : [])])].map((one) => [one, one]),
  ];
  const line = likeLine(
    { ...wish, length: wish.length.trim() ? withUnit(wish.length.trim(), unit) : "" },
    grades,
    seen,
  );
  const put = (change: Partial<typeof wish>) => setWish({ ...wish, ...change });
  return (
    <Box
      mt={2}
      borderLeftWidth="3px"
      borderColor="fg"
      pl={3}
      role="group"
      aria-label="A cord like it"
      fontSize="13px"
    >
      <Flex gap={3} wrap="wrap" align="center">
        <label>
          length{" "}
          <Input
            size="xs"
            width="90px"
            className="figures"
            aria-label="Length of the cord"
            placeholder={unit === "ft" ? "10 ft" : "3 m"}
            borderColor="border.emphasized"
            value={wish.length}
            onChange={(event) => put({ length: event.target.value })}
          />
        </label>
        {(["near", "far"] as const).map((end) => (
          <Flex key={end} gap={1} align="center">
            {end === "near" ? "one end" : "other end"}
            <Choice
              label={end === "near" ? "Plug at one end" : "Plug at the other end"}
              value={wish[end]}
              options={options as [string, string][]}
              onChange={(value) => put({ [end]: value })}
            />
            <PlugFront shape={wish[end].split("/")[0] ?? ""} />
          </Flex>
        ))}
        <label>
          count{" "}
          <Input
            size="xs"
            width="48px"
            className="figures"
            aria-label="How many cords"
            borderColor="border.emphasized"
            value={wish.count}
            onChange={(event) => put({ count: event.target.value })}
          />
        </label>
      </Flex>
      {grades.length > 1 && (
        <Box mt={2}>
          <Text>
            It may be {grades.length > 4 ? `any of ${grades.length} grades` : grades.join(" or ")}: the print
            decides, and glass of the wrong grade is a second trip.
          </Text>
          <label>
            print is read before it is ordered by{" "}
            <Input
              size="xs"
              width="150px"
              aria-label="Who reads the print"
              placeholder="crew 2"
              borderColor="border.emphasized"
              value={wish.reader}
              onChange={(event) => put({ reader: event.target.value })}
            />
          </label>
        </Box>
      )}
      <Flex gap={2} mt={2} align="center" wrap="wrap">
        <Button
          size="xs"
          disabled={busy || "missing" in line}
          onClick={() => {
            if (!("missing" in line)) onOrder(line);
          }}
        >
          Put it on the order
        </Button>
        <span role="status">{"missing" in line ? `Still needed: ${line.missing}.` : line.name}</span>
      </Flex>
    </Box>
  );
}
