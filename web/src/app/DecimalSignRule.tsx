import { Box, Flex, Text } from "@chakra-ui/react";

import { Choice } from "../shared/Choice";
import { type DecimalSign, keepDecimalSign, useDecimalSign } from "../shared/doubt";

/** How this person writes numbers; kept in this browser, and no rule of the project. */
export function DecimalSignRule() {
  const sign = useDecimalSign();
  return (
    <Box borderTopWidth="1px" py="6px" fontSize="13px">
      <Flex gap={2} align="center" wrap="wrap">
        <label htmlFor="decimal-sign" style={{ fontWeight: 600 }}>
          Comma before three digits
        </label>
        <Choice
          id="decimal-sign"
          label="Comma before three digits"
          value={sign}
          options={[
            ["ask", "ask each time"],
            ["point", "groups digits: 1,200 is 1200"],
            ["comma", "marks a decimal: 1,200 is 1.2"],
          ]}
          onChange={(value) => keepDecimalSign(value as DecimalSign)}
        />
      </Flex>
      <Text color="fg.muted" fontSize="12.5px" maxW="90ch">
        For what you type in this browser, at once. Files never follow it: a line with such a comma is refused. A
        point always marks a decimal.
      </Text>
    </Box>
  );
}
