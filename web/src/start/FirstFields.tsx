import { Button, Flex, Input, Text } from "@chakra-ui/react";

import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { lengthInput, lengthText, rateText } from "../shared/format";
import { RATES } from "../shared/generated/lists";
import { useSettings } from "../shared/settings";
import type { AskedPlan } from "./usePlan";
import type { More } from "./wish";

/** From where to where, how far, how fast, as typed. */
export interface First {
  from: string;
  to: string;
  length: string;
  rate: string;
}

interface Props {
  first: First;
  asks: boolean;
  plan: AskedPlan;
  /** The length as it was understood, in m. */
  understood: number | null;
  error: unknown;
  onFirst: (change: Partial<First>) => void;
  onMore: (change: Partial<More>) => void;
}

/** A length in the person's unit, and exactly in the other one. */
const bothUnits = (length_m: number, unit: "m" | "ft") => {
  const other = unit === "m" ? "ft" : "m";
  return unit === "m"
    ? `${lengthInput(length_m, "m")}, ${lengthText(length_m, other)}`
    : `${lengthText(length_m, "ft")}, ${lengthInput(length_m, "m")}`;
};

/** The fields that answer most questions. */
export function FirstFields({ first, asks, plan, understood, error, onFirst, onMore }: Props) {
  const { unit } = useSettings();
  const { from, to, length, rate } = first;
  const { places, route } = plan;
  return (
    <Flex direction="column" gap={2} my={2}>
      <Input
        size="sm"
        placeholder="from: Harbor office"
        aria-label="From"
        list="places"
        required
        autoFocus
        borderColor="border.emphasized"
        value={from}
        onChange={(event) => onFirst({ from: event.target.value })}
      />
      <Input
        size="sm"
        placeholder="to: Cold store"
        aria-label="To"
        list="places"
        required
        borderColor="border.emphasized"
        value={to}
        onChange={(event) => onFirst({ to: event.target.value })}
      />
      <datalist id="places">
        {places.map((place) => (
          <option key={place.id} value={place.name} />
        ))}
      </datalist>
      <Flex gap={2}>
        <Input
          size="sm"
          className="figures"
          placeholder={unit === "ft" ? "600 ft" : "185 m"}
          aria-label="How far"
          title="Empty if not known"
          borderColor="border.emphasized"
          value={length}
          onChange={(event) => onFirst({ length: event.target.value })}
        />
        {asks && (
          <Choice
            label="How fast"
            width="124px"
            value={rate}
            options={RATES.map((mbps) => [String(mbps), rateText(mbps)])}
            onChange={(next) => onFirst({ rate: next })}
          />
        )}
      </Flex>
      {understood !== null && length.trim() !== "" && (
        <Text fontSize="13px" data-testid="understood">
          {length.trim()} = <span className="figures">{bothUnits(understood, unit)}</span>
        </Text>
      )}
      <Text fontSize="12px" color="fg.muted">
        {asks
          ? "How far: the way between the two cabinets, with every rise. Slack and cords at the ends are added. Empty if not known."
          : "How far: empty takes the length of the link it is made like."}
      </Text>
      <ProblemNote error={error} />
      {route && (
        <Button
          size="xs"
          variant="outline"
          whiteSpace="normal"
          height="auto"
          py={1}
          onClick={() => {
            onFirst({ length: lengthText(route.length_m, unit) });
            onMore({ spaces: route.spaces });
          }}
        >
          From the plan: {lengthText(route.length_m, unit)}
          {route.spaces.length ? `, ${route.spaces.join(", ")}` : ""}
        </Button>
      )}
    </Flex>
  );
}
