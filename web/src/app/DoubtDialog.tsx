import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";

import { Toggle } from "../shared/Toggle";
import { keepDecimalSign, useWaiting } from "../shared/doubt";

/** Asks what a comma before three digits means; what was typed is sent again with the answer. */
export function DoubtDialog() {
  const waiting = useWaiting();
  const [always, setAlways] = useState(false);
  if (!waiting) return null;
  const { typed, readings } = waiting.doubt;
  const choose = (reading: string, sign: "point" | "comma") => {
    if (always) keepDecimalSign(sign);
    setAlways(false);
    waiting.answer(reading);
  };
  return (
    <Flex position="fixed" inset={0} zIndex={30} align="center" justify="center" bg="blackAlpha.600" p={4}>
      <Box
        role="alertdialog"
        aria-modal="true"
        aria-labelledby="doubt-title"
        aria-describedby="doubt-text"
        bg="bg"
        borderWidth="1px"
        borderColor="fg"
        p={4}
        maxW="44ch"
        onKeyDown={(event) => event.key === "Escape" && waiting.answer(null)}
      >
        <Heading as="h2" id="doubt-title" size="sm" fontWeight={600}>
          Which number is {typed}?
        </Heading>
        <Text id="doubt-text" fontSize="13px" mt={1}>
          The comma can group digits or mark a decimal.
        </Text>
        <Flex gap={2} mt={3} wrap="wrap">
          {readings.map((reading, i) => (
            <Button
              key={reading}
              size="md"
              variant="outline"
              className="figures"
              autoFocus={i === 0}
              onClick={() => choose(reading, i === 0 ? "point" : "comma")}
            >
              {reading}
            </Button>
          ))}
          <Button size="md" variant="ghost" onClick={() => waiting.answer(null)}>
            Cancel
          </Button>
        </Flex>
        <Box mt={3} fontSize="13px">
          <Toggle words="Read commas this way from now on" on={always} onChange={() => setAlways(!always)} />
        </Box>
      </Box>
    </Flex>
  );
}
