import { ChoiceField } from "./ChoiceField";
import type { SetValues } from "./values";

/** Whether position A at one end is position B at the other. */
export function Crossed({ value, set }: { value: boolean; set: SetValues }) {
  return (
    <ChoiceField
      label="polarity"
      value={value ? "crossed" : "straight"}
      options={[
        ["crossed", "crossed: A to B"],
        ["straight", "straight: A to A"],
      ]}
      onChange={(word) => set({ crossed: word === "crossed" })}
    />
  );
}
