import { Box, Flex, Text } from "@chakra-ui/react";

import { money } from "./words";

const INKS = [0.82, 0.62, 0.46, 0.34, 0.24, 0.16];

/** A sum as a bar of its parts, to scale, each with its name and figure. */
export function SumBar({
  parts,
  currency,
  label,
}: {
  parts: readonly (readonly [string, number])[];
  currency: string;
  label: string;
}) {
  const total = parts.reduce((sum, [, value]) => sum + value, 0);
  if (total <= 0) return null;
  return (
    <Box role="group" aria-label={label} mt={2} maxW="900px">
      <Flex height="16px" borderWidth="1px" borderColor="fg" aria-hidden>
        {parts.map(([name, value], i) => (
          <Box
            key={name}
            title={`${name} ${money(value)}`}
            width={`${(value / total) * 100}%`}
            bg="fg"
            opacity={INKS[i % INKS.length]}
          />
        ))}
      </Flex>
      <Flex wrap="wrap" columnGap={4} fontSize="12.5px" mt="3px">
        {parts.map(([name, value], i) => (
          <Flex key={name} align="center" gap="5px">
            <Box width="9px" height="9px" bg="fg" opacity={INKS[i % INKS.length]} aria-hidden />
            <Text>
              {name} <span className="figures">{money(value)}</span> {currency}
            </Text>
          </Flex>
        ))}
      </Flex>
    </Box>
  );
}
