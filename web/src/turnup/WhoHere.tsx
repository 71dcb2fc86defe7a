import { Flex, Input } from "@chakra-ui/react";

import { type ByWhom, signed } from "../proof/who";

/** Who writes, and where; typed once a day. */
export function WhoHere({ by, onChange }: { by: ByWhom; onChange: (next: Partial<ByWhom>) => void }) {
  const field = (key: "operator" | "place", label: string) => (
    <label>
      {label}{" "}
      <Input
        size="xs"
        width="120px"
        borderColor="border.emphasized"
        value={by[key]}
        maxLength={120}
        onChange={(event) => onChange({ [key]: event.target.value })}
      />
    </label>
  );
  return (
    <Flex gap={3} wrap="wrap" align="center" fontSize="13px" className="no-print" role="group" aria-label="By whom">
      {field("operator", "written by")}
      {field("place", "at")}
    </Flex>
  );
}

/** The head of an entry as it is sent. */
export function here(by: ByWhom) {
  const { operator, place, taken_on, at_time } = signed(by);
  return { operator, place, taken_on, at_time };
}
