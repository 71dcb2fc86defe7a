import { lengthInput, withUnit } from "../../shared/format";
import { useSettings } from "../../shared/settings";
import type { SetValues } from "./values";
import { TypedField } from "./TypedField";

/** A length as people type it: whoever stores it says what was not understood, and stores nothing then. */
export function LengthField({
  value,
  set,
  label = "length",
  field = "length_m",
}: {
  value: number | null | undefined;
  set: SetValues;
  label?: string;
  field?: string;
}) {
  const { unit } = useSettings();
  const typed = (text: string) => withUnit(text.trim(), unit);
  return (
    <TypedField
      label={label}
      value={lengthInput(value, unit)}
      placeholder={unit === "ft" ? "1250 ft" : "320 m"}
      onCommit={(text) => set({ [field]: text.trim() ? typed(text) : null })}
    />
  );
}
