import { Box, Button, Flex, Grid, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Datasheet } from "../shared/api";
import { Choice } from "../shared/Choice";
import { figureText, lengthText, rateText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { type Application, type Draft, type TEXTS, datasheetOf, draftFrom, missing } from "./datasheet";

interface Props {
  classes: Application[];
  busy: boolean;
  onTake: (sheet: Datasheet) => void;
}

const USUAL = "10GBASE-ER";

/** A module as its datasheet has it, started from the class that it is nearest to; the class's figures stand beside as a comparison. */
export function DatasheetForm({ classes, busy, onTake }: Props) {
  const { unit } = useSettings();
  const [name, setName] = useState(classes.some((one) => one.name === USUAL) ? USUAL : (classes[0]?.name ?? ""));
  const like = classes.find((one) => one.name === name) ?? classes[0];
  const [draft, setDraft] = useState<Draft | null>(null);
  if (!like) return null;
  const now = draft ?? draftFrom(like);
  const put = (key: keyof Draft, value: string) => setDraft({ ...now, [key]: value });
  const wanting = missing(now);
  const reach = like.reaches.at(-1);
  const field = (key: (typeof TEXTS)[number], label: string, beside: string, wide = false) => (
    <Box gridColumn={wide ? "1 / -1" : undefined}>
      <label htmlFor={`sheet-${key}`}>{label}</label>
      <Flex gap={2} align="center">
        <Input
          id={`sheet-${key}`}
          size="xs"
          width={wide ? "100%" : "120px"}
          bg="bg.panel"
          className={wide ? undefined : "figures"}
          borderColor="border.emphasized"
          value={now[key]}
          onChange={(event) => put(key, event.target.value)}
        />
        {beside && (
          <Text as="span" fontSize="12px" color="fg.muted" whiteSpace="nowrap">
            {beside}
          </Text>
        )}
      </Flex>
    </Box>
  );
  const there = (value: number | null | undefined, sign: string) =>
    value == null ? "class: none" : `class: ${figureText(value, 1)} ${sign}`;
  return (
    <Box asChild mt={2} p={3} borderWidth="1px" bg="bg.subtle">
      <form
        aria-label="Module from its datasheet"
        onSubmit={(event) => {
          event.preventDefault();
          if (wanting.length === 0) onTake(datasheetOf(now, like));
        }}
      >
        nearest class{" "}
        <Choice
          label="Nearest class"
          width="auto"
          value={like.name}
          options={classes.map(
            (one) =>
              [one.name, `${one.name}, ${rateText(one.rate_mbps)}, ${one.wavelengths_nm.join("/")} nm`] as const,
          )}
          onChange={(next) => {
            setName(next);
            const other = classes.find((one) => one.name === next);
            if (other) setDraft({ ...draftFrom(other), name: now.name, source: now.source });
          }}
        />
        <Grid templateColumns="repeat(auto-fill, minmax(250px, 1fr))" gap={2} mt={2}>
          {field("name", "name in this project", "", true)}
          {field("source", "datasheet: title, date", "", true)}
          {field("forms", "form", "")}
          {field("wavelengths_nm", "wavelength, nm", "")}
          {field("launch_min_dbm", "launch minimum, dBm", there(like.tx_power_dbm.min, "dBm"))}
          {field("launch_max_dbm", "launch maximum, dBm", there(like.tx_power_dbm.max, "dBm"))}
          {field("sensitivity_dbm", "sensitivity, dBm", there(like.rx_power_dbm.sensitivity, "dBm"))}
          {field("overload_dbm", "overload, dBm", there(like.rx_power_dbm.overload, "dBm"))}
          {field("damage_dbm", "damage, dBm", there(like.rx_power_dbm.damage, "dBm"))}
          {field("penalty_db", "path penalty, dB", "not said: 2 dB")}
          {field("dispersion_ps_per_nm", "dispersion that it stands, ps/nm", "")}
          {field("reach", "reach", `class: ${lengthText(reach?.reach_m, unit)}`)}
          {field("works_with", "may face, besides its like", "")}
          {like.fibers === 1 && field("partner", "the other side of its pair", "")}
        </Grid>
        <Flex gap={3} mt={2} align="center">
          <Button size="xs" type="submit" loading={busy} disabled={wanting.length > 0}>
            Add it to this project
          </Button>
          <Text color="fg.muted">
            {wanting.length > 0
              ? `Still needed: ${wanting.join(", ")}.`
              : "What the sheet does not give is taken from the class, and verdicts then read on estimate."}
          </Text>
        </Flex>
      </form>
    </Box>
  );
}
