import { Flex, Input, Text } from "@chakra-ui/react";

import { type ByWhom, unsaid } from "./who";

/** The head of every record: instrument, calibration, operator, place. Typed once a day. */
export function WhoBar({ by, onChange }: { by: ByWhom; onChange: (next: Partial<ByWhom>) => void }) {
  const missing = unsaid(by);
  const field = (key: keyof ByWhom, label: string, width: string, type = "text") => (
    <label>
      {label}{" "}
      <Input
        size="xs"
        width={width}
        type={type}
        borderColor="border.emphasized"
        value={by[key]}
        maxLength={120}
        onChange={(event) => onChange({ [key]: event.target.value })}
      />
    </label>
  );
  return (
    <Flex gap={3} wrap="wrap" align="center" fontSize="13px" className="no-print" role="group" aria-label="By whom">
      {field("instrument", "meter, serial", "90px")}
      {field("calibrated_on", "calibrated", "128px", "date")}
      {field("operator", "read by", "96px")}
      {field("place", "place", "110px")}
      <Text color="fg.muted" fontSize="12px">
        {missing.length
          ? `Without ${missing.join(", ")} a reading informs and decides nothing.`
          : "Day and time are taken when Enter is pressed."}
      </Text>
    </Flex>
  );
}
