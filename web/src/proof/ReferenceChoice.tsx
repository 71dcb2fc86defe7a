import { Input } from "@chakra-ui/react";

import { Choice } from "../shared/Choice";
import type { ReferenceSeen } from "../shared/api";

/** A reference in the list, and why it cannot serve here. */
function referenceText({ taken, why_void, launch }: ReferenceSeen, family: string): string {
  const not =
    why_void ||
    (taken.family !== family ? `it is of ${taken.family} cords` : "") ||
    (launch.certifies ? "" : "its launch does not certify");
  const name = `${taken.method}, ${taken.wavelength_nm} nm, ${taken.instrument}`;
  return not ? `${name} (cannot serve: ${not})` : name;
}

interface Props {
  references: readonly ReferenceSeen[];
  family: string;
  /** The key of a reference; null for the newest that serves, empty for one that is only stated. */
  zero: string | null;
  stated: string;
  onZero: (zero: string | null) => void;
  onStated: (words: string) => void;
}

/** With which reference is read; one that cannot serve says why in the list. */
export function ReferenceChoice({ references, family, zero, stated, onZero, onStated }: Props) {
  const fits = references.some((one) => !one.why_void && one.taken.family === family);
  return (
    <>
      <Choice
        label="Reference"
        value={zero ?? "newest"}
        options={[
          ["newest", fits ? "newest reference of the wavelength" : "no reference that holds"],
          ...references.map((one) => [one.taken.key, referenceText(one, family)] as const),
          ["", "stated by the tester, or on paper"],
        ]}
        onChange={(value) => onZero(value === "newest" ? null : value)}
      />
      {zero === "" && (
        <Input
          size="xs"
          width="250px"
          aria-label="Reference as stated"
          placeholder="method, cords, time, joined reading"
          borderColor="border.emphasized"
          value={stated}
          maxLength={120}
          onChange={(event) => onStated(event.target.value)}
        />
      )}
    </>
  );
}
