import { Box, Button, Flex, Heading, Input, Text } from "@chakra-ui/react";

import type { Evidence } from "../shared/api";
import { useCatalog } from "../shared/queries";

const FACES = ["flat", "angled"];

/** What can be seen of a cable, pressed piece by piece. */
export function SeenForm({ seen, onSee }: { seen: Evidence; onSee: (seen: Evidence) => void }) {
  const catalog = useCatalog().data;
  const jackets = [
    ...new Set([
      ...(catalog?.fibers.flatMap((fiber) => fiber.jacket_colors) ?? []).filter((color) => !color.includes("(")),
      ...(catalog?.marks.jacket.silent ?? []),
    ]),
  ];
  return (
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
        onChange={(event) => onSee({ ...seen, print: event.target.value })}
      />
      <Chips
        title="Jacket"
        values={jackets}
        value={seen.jacket ?? ""}
        onChange={(jacket) => onSee({ ...seen, jacket })}
      />
      <Chips
        title="Plugs"
        values={Object.keys(catalog?.marks.connector.colors ?? {})}
        value={seen.connector ?? ""}
        onChange={(connector) => onSee({ ...seen, connector })}
      />
      <Chips
        title="Boots"
        values={Object.keys(catalog?.marks.connector.colors ?? {})}
        value={seen.boot ?? ""}
        onChange={(boot) => onSee({ ...seen, boot })}
      />
      <Chips
        title="Plug shape"
        values={(catalog?.connectors ?? []).map((one) => one.name)}
        value={seen.shape ?? ""}
        onChange={(shape) => onSee({ ...seen, shape })}
      />
      {seen.shape?.startsWith("MPO") && <ArrayChips seen={seen} onSee={onSee} />}
      <Chips
        title="Ferrule"
        values={FACES}
        value={seen.polish ?? ""}
        onChange={(polish) => onSee({ ...seen, polish: polish as Evidence["polish"] })}
      />
      <Chips
        title="Runs"
        values={["indoors", "outdoors"]}
        value={seen.outdoors === null || seen.outdoors === undefined ? "" : seen.outdoors ? "outdoors" : "indoors"}
        onChange={(where) => onSee({ ...seen, outdoors: where === "" ? null : where === "outdoors" })}
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
        onChange={(event) => onSee({ ...seen, fibers: Number(event.target.value.replace(/\D/g, "").slice(0, 4)) })}
      />
      <Text mt={3} fontSize="13px" borderLeftWidth="3px" borderColor="fg" pl={2}>
        Unplug both ends and confirm darkness with a meter; look at a ferrule through a video scope only, never by
        eye.
      </Text>
    </Box>
  );
}

/** What a scope shows of an array plug. */
function ArrayChips({ seen, onSee }: { seen: Evidence; onSee: (seen: Evidence) => void }) {
  return (
    <>
      <Chips
        title="Rows"
        values={["1", "2"]}
        value={seen.rows ? String(seen.rows) : ""}
        onChange={(rows) => onSee({ ...seen, rows: Number(rows) as Evidence["rows"] })}
      />
      <Chips
        title="Beside the fibers"
        values={["pins", "holes"]}
        value={seen.pins ?? ""}
        onChange={(pins) => onSee({ ...seen, pins: pins as Evidence["pins"] })}
      />
      <Chips
        title="Key"
        values={["in the middle", "beside the middle"]}
        value={seen.key ?? ""}
        onChange={(key) => onSee({ ...seen, key: key as Evidence["key"] })}
      />
    </>
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
