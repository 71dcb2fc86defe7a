import { Box, Flex, Input, Text } from "@chakra-ui/react";

import type { Catalog } from "../shared/api";
import { Choice } from "../shared/Choice";
import { asTyped } from "../shared/doubt";
import { Toggle } from "../shared/Toggle";
import { rateText } from "../shared/format";
import { toggled } from "../shared/spaces";
import { Line, NumberLine } from "./Line";
import { RATES } from "../shared/generated/lists";
import { type PortWish, countOf } from "./wish";

const POLICIES: [PortWish["coding_policy"], string][] = [
  ["any", "modules of any make"],
  ["own only", "its own make only"],
  ["own above a rate", "its own make above a rate"],
  ["override", "others after an override"],
  ["any, telemetry lost", "any, without telemetry"],
];
const WATER: [PortWish["water"], string][] = [
  ["dry", "dry"],
  ["splashed", "splashed"],
  ["hosed", "hosed down"],
  ["flooded", "flooded"],
];

/** One end: its port, what it accepts, how many are free, and what its box meets. */
export function PortQuestions({
  end,
  wish,
  catalog,
  onChange,
}: {
  end: "here" | "there";
  wish: PortWish;
  catalog: Catalog | undefined;
  onChange: (wish: PortWish) => void;
}) {
  const set = (change: Partial<PortWish>) => onChange({ ...wish, ...change });
  return (
    <Box mt={2} role="group" aria-label={`The port ${end}`}>
      <Text fontWeight={600} fontSize="13px">
        {end === "here" ? "The port here" : "The port there"}
      </Text>
      <Line words="cage">
        <Choice
          label={`Port ${end}`}
          width="100%"
          value={wish.cage}
          options={[
            ["", "any cage"],
            ...(catalog?.cages.map((cage): [string, string] => [
              cage.name,
              cage.optical ? cage.name : `${cage.name}, native port`,
            ]) ?? []),
          ]}
          onChange={(cage) => set({ cage })}
        />
      </Line>
      <Line words="can be set to">
        <Flex gap={1} wrap="wrap" role="group" aria-label={`Speeds of the port ${end}`}>
          {RATES.map((rate) => (
            <Toggle
              key={rate}
              words={rateText(rate).replace(" Gb/s", "G").replace(" Mb/s", "M")}
              on={wish.rates_mbps.includes(rate)}
              onChange={() => set({ rates_mbps: toggled(RATES, wish.rates_mbps, rate) })}
            />
          ))}
        </Flex>
      </Line>
      {(wish.cage.startsWith("Q") || wish.cage.startsWith("CFP")) && (
        <Line words="can be split">
          <Choice
            label={`Split of the port ${end}`}
            width="100%"
            value={wish.splits.join(",")}
            options={[
              ["", "not known"],
              ...["2", "4", "8", "10", "2,4", "4,8"].map((one): [string, string] => [
                one,
                `into ${one.replace(",", " or ")}`,
              ]),
            ]}
            onChange={(text) => set({ splits: (text ? text.split(",").map(Number) : []) as PortWish["splits"] })}
          />
        </Line>
      )}
      <Line words="accepts">
        <Choice
          label={`What the port ${end} accepts`}
          width="100%"
          value={wish.coding_policy}
          options={POLICIES}
          onChange={(coding_policy) => set({ coding_policy: coding_policy as PortWish["coding_policy"] })}
        />
      </Line>
      {wish.coding_policy === "own above a rate" && (
        <NumberLine
          words="above, Mb/s"
          label={`Own make above, port ${end}`}
          value={wish.own_above_mbps}
          placeholder="1000"
          onChange={(text) => set({ own_above_mbps: countOf(text) ?? 0 })}
        />
      )}
      {(wish.coding_policy === "own only" || wish.coding_policy === "own above a rate") && (
        <Line words="make">
          <Input
            size="xs"
            borderColor="border.emphasized"
            aria-label={`Make of the box ${end}`}
            placeholder="make A"
            value={wish.make}
            onChange={(event) => set({ make: event.target.value })}
          />
        </Line>
      )}
      <NumberLine
        words="ports free"
        label={`Ports free ${end}`}
        value={wish.free}
        placeholder="not said"
        onChange={(text) => set({ free: countOf(text) })}
      />
      <Line words="uplink of its box">
        <Choice
          label={`Uplink of the box ${end}`}
          width="100%"
          value={String(wish.uplink_mbps ?? "")}
          options={[["", "not said"], ...RATES.map((rate): [string, string] => [String(rate), rateText(rate)])]}
          onChange={(text) => set({ uplink_mbps: countOf(text) })}
        />
      </Line>
      <Line words="air, °C">
        <Flex gap={1}>
          <Input
            size="xs"
            className="figures"
            borderColor="border.emphasized"
            aria-label={`Coldest ${end}`}
            placeholder="coldest"
            defaultValue={wish.coldest_c ?? ""}
            onChange={(event) => set({ coldest_c: asTyped(event.target.value) })}
          />
          <Input
            size="xs"
            className="figures"
            borderColor="border.emphasized"
            aria-label={`Hottest ${end}`}
            placeholder="hottest"
            defaultValue={wish.hottest_c ?? ""}
            onChange={(event) => set({ hottest_c: asTyped(event.target.value) })}
          />
        </Flex>
      </Line>
      <Line words="the box is">
        <Flex gap={1} align="center">
          <Choice
            label={`Water ${end}`}
            value={wish.water}
            options={WATER}
            onChange={(water) => set({ water: water as PortWish["water"] })}
          />
          <Toggle words="dusty" on={wish.dusty} onChange={() => set({ dusty: !wish.dusty })} />
        </Flex>
      </Line>
    </Box>
  );
}
