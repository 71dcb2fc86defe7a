import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { HouseRules } from "../shared/api";
import { asTyped, numbersIn } from "../shared/doubt";
import { Toggle } from "../shared/Toggle";

type SpareRule = NonNullable<HouseRules["spares"]>[number];
const CLASSES: readonly (readonly [SpareRule["of"], string])[] = [
  ["cords", "cords"],
  ["modules", "modules and assemblies"],
  ["joints", "adapters, pigtails, connectors"],
  ["boxes", "boxes and tools"],
  ["cable", "cable"],
];

/** Spares by class, and the reels that are sold: rules of the order that are lists. */
export function OrderRules({
  rules,
  onChange,
}: {
  rules: HouseRules;
  onChange: (next: Partial<HouseRules>) => void;
}) {
  const own = rules.spares ?? [];
  const [sizes, setSizes] = useState((rules.reel_sizes_m ?? []).join(", "));
  const put = (of: SpareRule["of"], next: Partial<SpareRule> | null) => {
    const others = own.filter((rule) => rule.of !== of);
    const before = own.find((rule) => rule.of === of) ?? { of, percent: 20, at_least: 1, far_site: false };
    onChange({ spares: next ? [...others, { ...before, ...next }] : others });
  };
  return (
    <Box borderTopWidth="1px" py="6px" fontSize="13px">
      <Text fontWeight={600}>Spares by class</Text>
      <Text color="fg.muted" fontSize="12.5px" maxW="90ch">
        A class without a rule of its own takes the share above, cords and modules never less than one; boxes and
        cable have none. With the far site, one of each line lies at every far place that uses it. They change the
        bill, no verdict.
      </Text>
      {CLASSES.map(([of, words]) => {
        const rule = own.find((one) => one.of === of);
        return (
          <Flex key={of} gap={2} align="center" wrap="wrap" mt={1}>
            <Text width="210px">{words}</Text>
            <Toggle words="own rule" on={rule !== undefined} onChange={() => put(of, rule ? null : {})} />
            {rule && (
              <>
                <Figure
                  label={`Share of ${words}`}
                  value={rule.percent}
                  onTake={(percent) => put(of, { percent })}
                />
                %, at least
                <Figure
                  label={`Least of ${words}`}
                  value={rule.at_least ?? 0}
                  onTake={(least) => put(of, { at_least: least })}
                />
                <Toggle
                  words="one at the far site"
                  on={rule.far_site ?? false}
                  onChange={() => put(of, { far_site: !rule.far_site })}
                />
              </>
            )}
          </Flex>
        );
      })}
      <Flex gap={2} align="center" mt={2} wrap="wrap">
        <label htmlFor="rule-reels" style={{ fontWeight: 600 }}>
          Reels that are sold, m
        </label>
        <Input
          id="rule-reels"
          size="xs"
          width="220px"
          className="figures"
          borderColor="border.emphasized"
          placeholder="500, 1000, 2000, 4000"
          value={sizes}
          onChange={(event) => {
            setSizes(event.target.value);
            onChange({
              reel_sizes_m: numbersIn(event.target.value)
                .map(asTyped)
                .filter((one) => one !== null),
            });
          }}
        />
        <Text color="fg.muted" fontSize="12.5px">
          empty: the usual lengths, an estimate
        </Text>
      </Flex>
    </Box>
  );
}

function Figure({ label, value, onTake }: { label: string; value: number; onTake: (value: number) => void }) {
  return (
    <Input
      size="xs"
      width="52px"
      className="figures"
      aria-label={label}
      borderColor="border.emphasized"
      defaultValue={String(value)}
      onChange={(event) => {
        const read = asTyped(event.target.value);
        if (read !== null) onTake(read);
      }}
    />
  );
}
