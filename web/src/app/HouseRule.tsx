import { Box, Flex, Input, Text, chakra } from "@chakra-ui/react";
import type { ReactNode } from "react";

import type { Catalog } from "../shared/api";
import { Choice } from "../shared/Choice";
import { sourceText } from "../shared/format";

type RuleText = Catalog["house_rules"][string];

/** One rule: its value, what the chosen value means, and why the default is what it is. */
export function HouseRule({
  name,
  text,
  value,
  onChange,
  children,
}: {
  name: string;
  text: RuleText;
  value: string;
  onChange: (value: string) => void;
  /** What the rule would do as it is typed now. */
  children?: ReactNode;
}) {
  const choices = Object.keys(text.choices ?? {});
  return (
    <Box borderTopWidth="1px" py="6px">
      <Flex gap={2} align="center" wrap="wrap">
        <chakra.label htmlFor={`rule-${name}`} fontWeight={600} minW="170px">
          {text.title}
        </chakra.label>
        {choices.length > 0 ? (
          <Choice
            id={`rule-${name}`}
            label={text.title}
            value={value}
            options={choices.map((choice) => [choice, choice])}
            onChange={onChange}
          />
        ) : (
          <Input
            id={`rule-${name}`}
            size="xs"
            width={typeof text.default === "string" ? "260px" : "64px"}
            className="figures"
            borderColor="border.emphasized"
            value={value}
            onChange={(event) => onChange(event.target.value)}
          />
        )}
        <span>{text.unit}</span>
        <Text fontSize="12.5px" color="fg.muted">
          default {text.default === "" ? "empty" : text.default} {text.unit}
        </Text>
      </Flex>
      {children}
      {choices.length > 0 && <Text fontSize="13px">{text.choices?.[value]}</Text>}
      <Text fontSize="12.5px" color="fg.muted" maxW="90ch">
        {text.reason} ({sourceText(text.source)})
      </Text>
    </Box>
  );
}
