import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Project } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { Toggle } from "../shared/Toggle";
import { asTyped } from "../shared/doubt";
import { WhoBar } from "./WhoBar";
import { useInstruments, useMeasureReference, useTakeReference } from "./queries";
import { signed, useByWhom } from "./who";

type Family = "single-mode" | "multimode";
const WAVELENGTHS: Record<Family, readonly string[]> = {
  "single-mode": ["1310", "1550"],
  multimode: ["850", "1300"],
};

/** Take a reference: with the instruments of the project, or as it was read by eye. */
export function ReferenceForm({ project }: { project: Project | undefined }) {
  const [by, setBy] = useByWhom();
  const rules = project?.house_rules;
  const [family, setFamily] = useState<Family>("single-mode");
  const [nm, setNm] = useState("1310");
  const [method, setMethod] = useState<string | null>(null);
  const [source, setSource] = useState("laser");
  const [loop, setLoop] = useState(true);
  const [mandrel, setMandrel] = useState(false);
  const [port, setPort] = useState("");
  const [core, setCore] = useState("");
  const [power, setPower] = useState("");
  const [joined, setJoined] = useState("");
  const take = useTakeReference(project);
  const measure = useMeasureReference(project);
  const rows = useInstruments(project).data?.instruments ?? [];
  const meters = rows.some((one) => one.row.kind === "power meter" && one.row.address && one.reached);
  const wish = {
    ...signed(by),
    method: method ?? rules?.test_reference ?? "one cord",
    family,
    wavelength_nm: Number(nm),
    reference_grade: (rules?.test_cords ?? "reference grade") === "reference grade",
    source,
    mandrel,
    meter_port: port,
    core_um: family === "single-mode" ? 9 : core === "" ? null : Number(core),
    loop_mm: family === "single-mode" && loop ? 30 : 0,
  };
  function typed() {
    take.mutate({ ...wish, power_dbm: asTyped(power), joined_db: asTyped(joined) } as never);
  }
  const choose = (next: Family) => {
    setFamily(next);
    setNm(WAVELENGTHS[next][0]!);
    setSource(next === "single-mode" ? "laser" : "encircled flux");
  };
  const field = (label: string, value: string, put: (text: string) => void, unit: string) => (
    <label>
      {label}{" "}
      <Input
        size="xs"
        width="72px"
        className="figures"
        borderColor="border.emphasized"
        inputMode="decimal"
        value={value}
        onChange={(event) => put(event.target.value)}
      />{" "}
      {unit}
    </label>
  );
  return (
    <Box borderWidth="1px" p={3} mt={2} role="form" aria-label="Take a reference">
      <WhoBar by={by} onChange={setBy} />
      <Flex gap={2} wrap="wrap" align="center" mt={2} fontSize="13px">
        <Choice
          label="Glass"
          value={family}
          options={[
            ["single-mode", "single-mode"],
            ["multimode", "multimode"],
          ]}
          onChange={(value) => choose(value as Family)}
        />
        <Choice
          label="Wavelength"
          value={nm}
          options={WAVELENGTHS[family].map((one) => [one, `${one} nm`])}
          onChange={setNm}
        />
        <Choice
          label="Method"
          value={wish.method}
          options={[
            ["one cord", "one cord"],
            ["two cords", "two cords"],
            ["three cords", "three cords"],
          ]}
          onChange={setMethod}
        />
        <Choice
          label="Source"
          value={source}
          options={[
            ["laser", "laser source"],
            ["encircled flux", "source with encircled flux"],
            ["LED", "LED source"],
            ["VCSEL", "VCSEL source"],
          ]}
          onChange={setSource}
        />
        {family === "multimode" && (
          <Choice
            label="Core of the test cords"
            value={core}
            options={[
              ["", "core of the cords: not known"],
              ["50", "cords of 50 µm"],
              ["62.5", "cords of 62.5 µm"],
            ]}
            onChange={setCore}
          />
        )}
        <Choice
          label="Connector of the meter"
          value={port}
          options={[
            ["", "meter takes: not said"],
            ...["LC", "SC", "ST", "FC"].map((one) => [one, `meter takes ${one}`] as const),
          ]}
          onChange={setPort}
        />
        {family === "single-mode" ? (
          <Toggle words="loop of 30 mm in the launch cord" on={loop} onChange={() => setLoop(!loop)} />
        ) : (
          <Toggle words="mandrel on the launch cord" on={mandrel} onChange={() => setMandrel(!mandrel)} />
        )}
        {meters && (
          <Button size="sm" loading={measure.isPending} onClick={() => measure.mutate(wish)}>
            Take it with the meter
          </Button>
        )}
      </Flex>
      <Flex gap={3} wrap="wrap" align="center" mt={2} fontSize="13px">
        or by eye: {field("power", power, setPower, "dBm")} {field("cords joined", joined, setJoined, "dB")}
        <Button size="sm" variant="outline" loading={take.isPending} onClick={typed}>
          Write it down
        </Button>
      </Flex>
      <Text fontSize="12px" color="fg.muted" mt={1}>
        Joined cords read at most 0.1 dB (multimode) or 0.2 dB (single-mode) with reference-grade plugs; never less
        than nothing. Laser light is invisible: never look into a fiber or a port.
      </Text>
      <ProblemNote error={take.error ?? measure.error} />
    </Box>
  );
}
