import { Flex, NativeSelect } from "@chakra-ui/react";

import type { Plug } from "../../shared/colors";
import { Row } from "./Row";

const SHAPES: Plug["shape"][] = ["LC", "SC", "ST", "FC"];
const POLISHES: [Plug["polish"], string][] = [
  ["PC", "PC flat"],
  ["UPC", "UPC flat"],
  ["APC", "APC angled"],
];

interface Props {
  label: string;
  value: Plug | null | undefined;
  bareAllowed: boolean;
  onChange: (plug: Plug | null) => void;
}

/** Shape and polish at one end of a cable, or bare fiber where that is possible. */
export function PlugField({ label, value, bareAllowed, onChange }: Props) {
  const shape = value?.shape ?? "bare";
  const polish = value?.polish ?? "UPC";
  return (
    <Row label={label}>
      <Flex gap={1}>
        <NativeSelect.Root size="xs" width="72px" flexShrink={0}>
          <NativeSelect.Field
            aria-label={`${label}: shape`}
            value={shape}
            fontSize="13px"
            bg="bg.panel"
            borderColor="border.emphasized"
            onChange={(event) =>
              onChange(
                event.target.value === "bare" ? null : { shape: event.target.value as Plug["shape"], polish },
              )
            }
          >
            {SHAPES.map((name) => (
              <option key={name}>{name}</option>
            ))}
            {bareAllowed && <option value="bare">bare</option>}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
        {value && (
          <NativeSelect.Root size="xs">
            <NativeSelect.Field
              aria-label={`${label}: polish`}
              value={polish}
              fontSize="13px"
              bg="bg.panel"
              borderColor="border.emphasized"
              onChange={(event) => onChange({ shape: value.shape, polish: event.target.value as Plug["polish"] })}
            >
              {POLISHES.map(([name, words]) => (
                <option key={name} value={name}>
                  {words}
                </option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
        )}
      </Flex>
    </Row>
  );
}
