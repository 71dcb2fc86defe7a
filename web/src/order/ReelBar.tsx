import { Box, Flex, Text, chakra } from "@chakra-ui/react";

import type { ReactNode } from "react";

import type { ReelRun, ReelSeen } from "../shared/api";
import { lengthText } from "../shared/format";
import { useSettings } from "../shared/settings";

interface Props {
  reel: ReelSeen;
  longest: number;
  held: string;
  onHold: (run: ReelRun) => void;
  target: boolean;
  onTarget: () => void;
  fits: boolean;
  form: ReactNode;
}

/** A reel to scale: its cuts in order, what is left hatched, what is too short beyond its end. */
export function ReelBar({ reel, longest, held, onHold, target, onTarget, fits, form }: Props) {
  const { unit } = useSettings();
  const most = Math.max(longest, reel.holds_m - Math.min(0, reel.left_m));
  const share = (m: number) => `${(m / most) * 100}%`;
  const short = reel.left_m < 0;
  return (
    <Box mt={2} maxW="980px" data-reel={reel.name} css={{ breakInside: "avoid" }}>
      <Flex fontSize="12.5px" gap={2} wrap="wrap">
        <b>{reel.name}</b>
        <span className="figures">
          {lengthText(reel.holds_m, unit)}
          {reel.holds_m !== reel.sold_m ? ` delivered, ${lengthText(reel.sold_m, unit)} sold` : ""}
        </span>
        <span>{reel.on_hand ? "on hand" : reel.state}</span>
        {reel.report && <span>{reel.report}</span>}
        <Text as="span" color="fg.muted">
          {short
            ? `${lengthText(-reel.left_m, unit)} too short`
            : `${lengthText(reel.left_m, unit)} left, ${reel.useful ? "useful" : "scrap"}`}
        </Text>
        {target && (
          <chakra.button
            type="button"
            onClick={onTarget}
            textDecoration="underline"
            aria-label={`Put it on ${reel.name}`}
          >
            put it here{fits ? "" : ": too short for it"}
          </chakra.button>
        )}
      </Flex>
      <Flex height="30px" position="relative" width="100%">
        {reel.cuts.map((run) => {
          const on = held === `${run.of} ${run.section}`;
          return (
            <chakra.button
              key={`${run.of} ${run.section}`}
              type="button"
              aria-pressed={on}
              title={`${run.words}, ${lengthText(run.length_m, unit)}`}
              onClick={() => onHold(run)}
              width={share(run.length_m)}
              flexShrink={0}
              borderWidth="1px"
              borderColor="fg"
              borderRightWidth={0}
              bg={on ? "fg" : "bg.muted"}
              color={on ? "bg" : "fg"}
              fontSize="12px"
              px="4px"
              overflow="hidden"
              whiteSpace="nowrap"
              textOverflow="ellipsis"
              textAlign="start"
            >
              {run.words} <span className="figures">{lengthText(run.length_m, unit)}</span>
            </chakra.button>
          );
        })}
        {!short && (
          <Box
            width={share(reel.left_m)}
            borderWidth="1px"
            borderColor="fg"
            aria-hidden
            css={{
              backgroundImage:
                "repeating-linear-gradient(135deg, transparent 0 5px, var(--chakra-colors-border) 5px 6px)",
            }}
          />
        )}
        {short && (
          <Box
            position="absolute"
            left={share(reel.holds_m)}
            top="-4px"
            bottom="-4px"
            borderLeftWidth="2px"
            borderColor="fg"
            pl="3px"
            pointerEvents="none"
          >
            <Text fontSize="11px" bg="bg" px="2px">
              ends here
            </Text>
          </Box>
        )}
      </Flex>
      {form}
    </Box>
  );
}
