import { Input } from "@chakra-ui/react";
import { useId, useState } from "react";

import { ProblemNote } from "../../shared/ProblemNote";
import { Row } from "./Row";

interface Props {
  label: string;
  value: string;
  /** Stores the text. A promise that answers with an error keeps the typing in the field. */
  onCommit: (text: string) => unknown;
  check?: (text: string) => Promise<string>;
  hideLabel?: boolean;
  large?: boolean;
  placeholder?: string;
}

/** A text that is stored when it is left or Enter is pressed; Escape takes it back. `check` says what was understood. */
export function TypedField({ label, value, onCommit, check, hideLabel, large, placeholder }: Props) {
  const id = useId();
  const [draft, setDraft] = useState<string | null>(null);
  const [error, setError] = useState<unknown>(null);
  const shown = draft ?? value;

  async function commit() {
    if (draft === null || draft === value) return setDraft(null);
    try {
      if (check) await check(draft);
      const refused = await onCommit(draft);
      if (refused) throw refused;
      setError(null);
      setDraft((now) => (now === draft ? null : now)); // what was typed meanwhile stays
    } catch (problem) {
      setError(problem);
    }
  }

  const input = (
    <Input
      id={id}
      aria-label={hideLabel ? label : undefined}
      aria-invalid={error !== null}
      aria-describedby={error ? `${id}-error` : undefined}
      size={large ? "md" : "xs"}
      variant={large ? "flushed" : "outline"}
      fontSize={large ? "20px" : "13px"}
      fontWeight={large ? 600 : 400}
      borderColor={large ? "transparent" : "border.emphasized"}
      bg={large ? "transparent" : "bg.panel"}
      value={shown}
      placeholder={placeholder}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={() => void commit()}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter") void commit();
        if (event.key === "Escape") {
          setDraft(null);
          setError(null);
        }
      }}
    />
  );
  if (hideLabel) return input;
  return (
    <Row label={label} htmlFor={id}>
      {input}
      <ProblemNote error={error} id={`${id}-error`} />
    </Row>
  );
}
