import { Button, Flex, Text } from "@chakra-ui/react";

import { rateText } from "../shared/format";
import { RATES } from "../shared/generated/lists";
import type { AskedPlan } from "./usePlan";

interface Props {
  plan: AskedPlan;
  asks: boolean;
  rate: string;
  onRate: (rate: string) => void;
}

/** What the plan knows of the two places: their air, and what the devices there want. */
export function FromPlan({ plan: { start, end, wanted }, asks, rate, onRate }: Props) {
  return (
    <>
      {[start, end].map(
        (place) =>
          place &&
          (place.coldest_c != null || place.hottest_c != null) && (
            <Text key={place.id} fontSize="12.5px" mb={2}>
              {place.name}: {place.coldest_c ?? "?"} to {place.hottest_c ?? "?"} °C by the plan; modules are chosen
              for it.
            </Text>
          ),
      )}
      {wanted && asks && (
        <Text fontSize="12.5px" mb={2} data-testid="devices-there">
          There: {wanted.names}; they want {rateText(wanted.one)} each at most, {rateText(wanted.all)} together.{" "}
          <Button
            size="2xs"
            variant="outline"
            onClick={() => onRate(String(RATES.find((mbps) => mbps >= wanted.one) ?? rate))}
          >
            Ask for {rateText(RATES.find((mbps) => mbps >= wanted.one) ?? wanted.one)}
          </Button>
        </Text>
      )}
    </>
  );
}

/** Whether the answer takes the place of a link's chain or stands beside it. */
export const Replaces = ({
  name,
  replaces,
  onChoose,
}: {
  name: string;
  replaces: boolean;
  onChoose: (replaces: boolean) => void;
}) => (
  <Flex role="radiogroup" aria-label="What the answer does" direction="column" mb={2} fontSize="13px">
    {[true, false].map((one) => (
      <label key={String(one)}>
        <input type="radio" name="does" checked={replaces === one} onChange={() => onChoose(one)} />{" "}
        {one
          ? `replaces the chain of ${name}; its name, place and history stay`
          : "becomes a variant beside it, a link of its own"}
      </label>
    ))}
  </Flex>
);
