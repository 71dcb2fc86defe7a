import { Button, Flex, Input } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";

import type { BillLine, LineRequest, Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { asTyped } from "../shared/doubt";
import { useSetLine } from "./queries";

/** What a person knows better of a line: its quantity with the reason, a quoted price, what is at hand. */
export function LineForm({ line, project }: { line: BillLine; project: Project | undefined }) {
  const set = useSetLine(project);
  const [why, setWhy] = useState(line.why);
  const put = (what: LineRequest["what"], text: string, reason = "") =>
    set.mutate({ words: line.words, what, value: asTyped(text), why: reason });
  return (
    <>
      <Flex gap={3} wrap="wrap" mt={1} fontSize="13px" align="end">
        <Field
          name="Quantity by hand"
          value={line.quantity === line.computed ? "" : String(line.quantity)}
          onTake={(text) => put("quantity", text, why)}
        >
          <Input
            size="xs"
            width="180px"
            aria-label="Why another quantity"
            placeholder="why another quantity"
            borderColor="border.emphasized"
            value={why}
            maxLength={120}
            onChange={(event) => setWhy(event.target.value)}
          />
        </Field>
        <Field
          name="Quoted price"
          value={line.price_by === "quoted" ? String(line.each) : ""}
          onTake={(text) => put("price", text)}
        />
        <Field
          name="At hand"
          value={line.at_hand ? String(line.at_hand) : ""}
          onTake={(text) => put("at hand", text)}
        />
      </Flex>
      <ProblemNote error={set.error} />
    </>
  );
}

function Field({
  name,
  value,
  onTake,
  children,
}: {
  name: string;
  value: string;
  onTake: (text: string) => void;
  children?: ReactNode;
}) {
  const [text, setText] = useState(value);
  return (
    <Flex
      as="form"
      gap={1}
      align="center"
      onSubmit={(event) => {
        event.preventDefault();
        onTake(text);
      }}
    >
      <label>
        {name}{" "}
        <Input
          size="xs"
          width="72px"
          className="figures"
          borderColor="border.emphasized"
          value={text}
          inputMode="decimal"
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      {children}
      <Button size="xs" variant="outline" type="submit" disabled={text === value} aria-label={`Take ${name}`}>
        {text.trim() === "" && value !== "" ? "Forget" : "Take"}
      </Button>
    </Flex>
  );
}
