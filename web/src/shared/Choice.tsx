import { NativeSelect } from "@chakra-ui/react";

interface Props {
  label: string;
  value: string;
  options: readonly (readonly [string, string])[];
  onChange: (value: string) => void;
  id?: string;
  width?: string;
}

/** A small select with its name for those who cannot see its place. */
export function Choice({ label, value, options, onChange, id, width = "auto" }: Props) {
  return (
    <NativeSelect.Root size="xs" width={width} flexShrink={0}>
      <NativeSelect.Field
        id={id}
        aria-label={label}
        value={value}
        borderColor="border.emphasized"
        onChange={(event) => onChange(event.target.value)}
      >
        {options.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}
