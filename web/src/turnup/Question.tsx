import { Box, Button, Flex, Text } from "@chakra-ui/react";

import type { LinkLook, NextLook } from "../shared/api";
import { Care } from "../shared/Care";
import { shareText } from "./scale";

interface QuestionProps {
  look: LinkLook;
  next?: NextLook;
  names?: Record<string, string>;
  onSay: (test: string, outcome: string) => void;
  small?: boolean;
}

/** A look with its outcomes as buttons; under each what it would mean. */
export function Question({ look, next, names = {}, onSay, small = false }: QuestionProps) {
  return (
    <Box mt={2} role="group" aria-label={look.asks} data-look={look.name}>
      <Text fontSize="13px">
        {small && `${look.asks} `}
        {next && (
          <Text as="span" color="fg.muted">
            about {Math.round(next.minutes)} min
            {look.lacks?.length ? `, with the way to fetch ${look.lacks.join(" and ")}` : ""}
          </Text>
        )}
      </Text>
      <Flex gap={2} wrap="wrap" mt={1}>
        {Object.entries(look.outcomes).map(([outcome, words]) => {
          const means = next?.outcomes.find((one) => one.outcome === outcome);
          const first = means?.belief[0];
          return (
            <Button
              key={outcome}
              size={small ? "xs" : "lg"}
              height="auto"
              py={small ? 1 : 2}
              variant="outline"
              whiteSpace="normal"
              textAlign="start"
              flexDirection="column"
              alignItems="flex-start"
              gap="1px"
              maxW="240px"
              onClick={() => onSay(look.name, outcome)}
            >
              <span>{words}</span>
              {means && (
                <Text as="span" fontSize="11px" lineHeight="1.3" fontWeight={400} color="fg.muted">
                  {means.probability <= 0
                    ? "cannot be, by what was seen"
                    : first
                      ? `then: ${names[String(first[0])] ?? String(first[0])} ${shareText(Number(first[1]))}`
                      : ""}
                </Text>
              )}
            </Button>
          );
        })}
      </Flex>
      {look.caution && !small && <Care lines={[look.caution]} />}
    </Box>
  );
}
