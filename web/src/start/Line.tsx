import { Box, Input, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";

/** A question and its answer on one line. */
export const Line = ({ words, children }: { words: string; children: ReactNode }) => (
  <Box display="grid" gridTemplateColumns="104px minmax(0, 1fr)" gap={2} alignItems="center" mt={1} fontSize="13px">
    <Text color="fg.muted">{words}</Text>
    <Box minW={0}>{children}</Box>
  </Box>
);

/** A small field for a number that need not be given. */
export const NumberLine = ({
  words,
  label,
  value,
  placeholder,
  onChange,
}: {
  words: string;
  label: string;
  value: number | null | undefined;
  placeholder: string;
  onChange: (text: string) => void;
}) => (
  <Line words={words}>
    <Input
      size="xs"
      className="figures"
      inputMode="decimal"
      borderColor="border.emphasized"
      aria-label={label}
      placeholder={placeholder}
      defaultValue={value ?? ""}
      onChange={(event) => onChange(event.target.value)}
    />
  </Line>
);
