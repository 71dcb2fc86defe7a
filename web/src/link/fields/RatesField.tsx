import { Flex, chakra } from "@chakra-ui/react";

import { rateText } from "../../shared/format";
import { RATES } from "../../shared/generated/lists";
import { Row } from "./Row";

/** The speeds that a port can be set to, or that a module lists. */
export function RatesField({
  label,
  value,
  onChange,
}: {
  label: string;
  value: readonly number[];
  onChange: (rates: number[]) => void;
}) {
  const toggle = (rate: number) =>
    onChange(value.includes(rate) ? value.filter((r) => r !== rate) : [...value, rate].toSorted((a, b) => a - b));
  return (
    <Row label={label}>
      <Flex
        gap={1}
        wrap="wrap"
        role="group"
        aria-label={label === "speeds" ? "Speeds that the port can be set to" : "Speeds that it lists"}
      >
        {RATES.map((rate) => (
          <chakra.button
            key={rate}
            type="button"
            aria-pressed={value.includes(rate)}
            onClick={() => toggle(rate)}
            className="figures"
            fontSize="11.5px"
            px="5px"
            borderWidth="1px"
            borderRadius="l2"
            borderColor={value.includes(rate) ? "fg" : "border"}
            bg={value.includes(rate) ? "fg" : "bg.panel"}
            color={value.includes(rate) ? "bg" : "fg"}
          >
            {rateText(rate)}
          </chakra.button>
        ))}
      </Flex>
    </Row>
  );
}
