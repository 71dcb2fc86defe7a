import { Box, Button, Flex, Heading, Input, Text } from "@chakra-ui/react";

import type { ReactNode } from "react";

import { type ArrayLook, FerruleTip, PlugFront, PlugSide } from "../draw/PlugView";
import type { Catalog, Evidence } from "../shared/api";
import { PLUG_INKS, jacketInk } from "../shared/colors";
import { useCatalog } from "../shared/queries";

const FACES = ["flat", "angled"];

/** What can be seen of a cable, pressed piece by piece. */
export function SeenForm({ seen, onSee }: { seen: Evidence; onSee: (seen: Evidence) => void }) {
  const catalog = useCatalog().data;
  const jackets = [
    ...new Set([
      ...(catalog?.fibers.flatMap((fiber) => fiber.jacket_colors) ?? []).filter((color) => !color.includes("(")),
      ...Object.keys(catalog?.marks.jacket.military ?? {}),
      ...Object.keys(catalog?.marks.jacket.elsewhere ?? {}),
      ...(catalog?.marks.jacket.silent ?? []),
    ]),
  ];
  const colors = Object.keys(catalog?.marks.connector.colors ?? {});
  const older = Object.keys(catalog?.marks.shape.older ?? {});
  return (
    <Box width={{ base: "auto", md: "350px", lg: "390px" }} flexShrink={0}>
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
      <Press
        title="Jacket"
        values={jackets}
        value={seen.jacket ?? ""}
        drawn={(name) => <JacketSwatch name={name} print={printsOf(name, catalog)} />}
        onChange={(jacket) => onSee({ ...seen, jacket })}
      />
      <Press
        title="Plugs"
        values={colors}
        value={seen.connector ?? ""}
        drawn={(name) => <PlugSide shape="SC" face="flat" color={PLUG_INKS[name]} />}
        onChange={(connector) => onSee({ ...seen, connector })}
      />
      <Press
        title="Boots"
        values={colors}
        value={seen.boot ?? ""}
        drawn={(name) => <PlugSide shape="SC" face="flat" boot={PLUG_INKS[name]} />}
        onChange={(boot) => onSee({ ...seen, boot })}
      />
      <Press
        title="Plug shape"
        values={(catalog?.connectors ?? []).map((one) => one.name)}
        value={seen.shape ?? ""}
        drawn={(name) => (
          <>
            <PlugFront shape={name} look={lookOf(seen, name)} />
            <PlugSide shape={name} face={seen.polish ?? ""} />
          </>
        )}
        onChange={(shape) => onSee({ ...seen, shape })}
      />
      <details open={older.includes(seen.shape ?? "")}>
        <summary style={{ fontSize: 13 }}>older shapes</summary>
        <Press
          title="Older plug shape"
          values={older}
          value={seen.shape ?? ""}
          drawn={(name) => (
            <>
              <PlugFront shape={name} />
              <PlugSide shape={name} face="" />
            </>
          )}
          onChange={(shape) => onSee({ ...seen, shape })}
        />
      </details>
      {seen.shape?.startsWith("MPO") && <ArrayChips seen={seen} onSee={onSee} />}
      <Press
        title="Ferrule"
        values={FACES}
        value={seen.polish ?? ""}
        drawn={(face) => <FerruleTip face={face as "flat" | "angled"} />}
        onChange={(polish) => onSee({ ...seen, polish: polish as Evidence["polish"] })}
      />
      <Press
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
  const shape = seen.shape ?? "MPO";
  return (
    <>
      <Press
        title="Rows"
        drawn={(rows) => <PlugFront shape={shape} look={{ ...lookOf(seen, shape), rows: Number(rows) }} />}
        values={["1", "2"]}
        value={seen.rows ? String(seen.rows) : ""}
        onChange={(rows) => onSee({ ...seen, rows: Number(rows) as Evidence["rows"] })}
      />
      <Press
        title="Beside the fibers"
        drawn={(pins) => <PlugFront shape={shape} look={{ ...lookOf(seen, shape), pins: pins === "pins" }} />}
        values={["pins", "holes"]}
        value={seen.pins ?? ""}
        onChange={(pins) => onSee({ ...seen, pins: pins as Evidence["pins"] })}
      />
      <Press
        title="Key"
        drawn={(key) => (
          <PlugFront
            shape={shape}
            look={{ ...lookOf(seen, shape), key: key === "in the middle" ? "middle" : "beside" }}
          />
        )}
        values={["in the middle", "beside the middle"]}
        value={seen.key ?? ""}
        onChange={(key) => onSee({ ...seen, key: key as Evidence["key"] })}
      />
    </>
  );
}

/** What of an array plug was seen so far, for drawing it. */
const lookOf = (seen: Evidence, shape: string): ArrayLook =>
  seen.shape === shape
    ? {
        rows: seen.rows || 1,
        pins: seen.pins === "pins",
        ...(seen.key ? { key: seen.key === "in the middle" ? ("middle" as const) : ("beside" as const) } : {}),
      }
    : {};

const PRINTS = 2;

/** What is usually printed on a jacket of this color: the grades whose scheme has it. */
const printsOf = (color: string, catalog: Catalog | undefined): string =>
  (catalog?.fibers ?? [])
    .filter((fiber) => fiber.jacket_colors.includes(color))
    .map((fiber) => catalog?.marks.print[fiber.name]?.[0] ?? fiber.name)
    .filter((name, i, all) => all.indexOf(name) === i)
    .slice(0, PRINTS)
    .join(" · ");

/** A piece of cable in its color with a print as it may stand there. */
function JacketSwatch({ name, print }: { name: string; print: string }) {
  const dark = ["black", "slate", "blue", "green", "violet"].includes(name);
  return (
    <svg aria-hidden style={{ width: 106, height: 22 }}>
      <rect
        x="0.5"
        y="2.5"
        width="105"
        height="17"
        rx="8"
        fill={jacketInk(name)}
        stroke="var(--chakra-colors-fg)"
      />
      <text
        x="53"
        y="15"
        textAnchor="middle"
        fontSize="9.5"
        fill={dark ? "#ffffff" : "#1b1b1a"}
        className="figures"
      >
        {print}
      </text>
    </svg>
  );
}

interface PressProps {
  title: string;
  values: readonly string[];
  value: string;
  /** How a value looks; without one its word stands alone. */
  drawn?: (value: string) => ReactNode;
  onChange: (value: string) => void;
}

/** Looks to press, each drawn as it is seen, with its word. */
function Press({ title, values, value, drawn, onChange }: PressProps) {
  return (
    <Box mt={3} role="group" aria-label={title}>
      <Text fontSize="13px">{title}</Text>
      <Flex gap={1} wrap="wrap">
        {values.map((name) => (
          <Button
            key={name}
            size="md"
            height="auto"
            minH="40px"
            minW="56px"
            px={2}
            py={1}
            flexDirection="column"
            gap={0}
            fontWeight={name === value ? 700 : 400}
            variant="outline"
            borderWidth={name === value ? "3px" : "1px"}
            borderColor={name === value ? "fg" : "border.emphasized"}
            aria-pressed={name === value}
            onClick={() => onChange(name === value ? "" : name)}
          >
            {drawn && <span style={{ display: "flex", alignItems: "center" }}>{drawn(name)}</span>}
            <span>{name}</span>
          </Button>
        ))}
      </Flex>
    </Box>
  );
}
