import { Flex, Input } from "@chakra-ui/react";

import type { ReadingsOut } from "../shared/api";
import { Toggle } from "../shared/Toggle";

interface Said {
  tester_zero: string;
  cleaned: boolean;
  length_checked: boolean;
}

/** What is said once for a whole table: its reference, whether faces were cleaned, whether lengths were checked. */
export function BatchQuestions({
  found,
  said,
  onSay,
}: {
  found: ReadingsOut;
  said: Said;
  onSay: (next: Partial<Said>) => void;
}) {
  const lengths = found.problems.some((one) => one.message.includes("light says"));
  return (
    <Flex direction="column" gap={2} mt={2} align="flex-start">
      {(Boolean(found.without_zero) || said.tester_zero !== "") && (
        <label>
          {found.without_zero
            ? `${found.without_zero} readings have no reference on record and prove nothing. `
            : ""}
          Reference as the tester states it{" "}
          <Input
            size="xs"
            width="260px"
            aria-label="Reference as the tester states it"
            placeholder="one cord, reference grade, 08:05, joined 0.06 dB"
            borderColor="border.emphasized"
            value={said.tester_zero}
            maxLength={120}
            onChange={(event) => onSay({ tester_zero: event.target.value })}
          />
        </label>
      )}
      {Boolean(found.after_fail) && (
        <Flex gap={2} align="center" wrap="wrap">
          {found.after_fail} of them follow a reading that failed.
          <Toggle
            words="The faces were cleaned before they were read again"
            on={said.cleaned}
            onChange={() => onSay({ cleaned: !said.cleaned })}
          />
        </Flex>
      )}
      {(lengths || said.length_checked) && (
        <Toggle
          words="The lengths were checked and are right"
          on={said.length_checked}
          onChange={() => onSay({ length_checked: !said.length_checked })}
        />
      )}
    </Flex>
  );
}
