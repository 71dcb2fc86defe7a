import { NativeSelect } from "@chakra-ui/react";
import { useId } from "react";

import { Row } from "./Row";

interface Props {
  label: string;
  value: string;
  options: readonly (string | readonly [string, string])[];
  onChange: (value: string) => void;
}

/** One of several, stored at once. An option is its value, or value and words. */
export function ChoiceField({ label, value, options, onChange }: Props) {
  const id = useId();
  return (
    <Row label={label} htmlFor={id}>
      <NativeSelect.Root size="xs">
        <NativeSelect.Field
          id={id}
          value={value}
          onChange={(event) => onChange(event.target.value)}
          bg="bg.panel"
          borderColor="border.emphasized"
          fontSize="13px"
        >
          {options.map((option) => {
            const [key, words] = typeof option === "string" ? [option, option] : option;
            return (
              <option key={key} value={key}>
                {words}
              </option>
            );
          })}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Row>
  );
}
