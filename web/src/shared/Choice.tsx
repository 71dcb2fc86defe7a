import { NativeSelect } from "@chakra-ui/react";

/** A small select with its name for those who cannot see its place. */
export function Choice({ label, value, options, onChange }: { label: string; value: string; options: readonly (readonly [string, string])[]; onChange: (value: string) => void }) {
  return (
    <NativeSelect.Root size="xs" width="auto">
      <NativeSelect.Field aria-label={label} value={value} borderColor="border.emphasized" onChange={(event) => onChange(event.target.value)}>
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
