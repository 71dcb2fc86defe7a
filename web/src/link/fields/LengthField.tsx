import { call } from "../../shared/api";
import { lengthInput, withUnit } from "../../shared/format";
import { useSettings } from "../../shared/settings";
import type { SetValues } from "./values";
import { TypedField } from "./TypedField";

/** A number with a point and a unit means one thing only; what else is typed is asked about before it is stored. */
const PLAIN = /^\d{1,5}(\.\d+)?\s*(m|km|ft)$/;

/** A length as people type it; what was understood is checked before it is stored. */
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
      check={async (text) =>
        text.trim() && !PLAIN.test(typed(text))
          ? (await call<{ metres: string }>(`/length?text=${encodeURIComponent(typed(text))}`)).metres
          : ""
      }
      onCommit={(text) => set({ [field]: text.trim() ? typed(text) : null })}
    />
  );
}
