import { Box, Button, Flex, Input, NativeSelect } from "@chakra-ui/react";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";

import { ProblemNote } from "../shared/ProblemNote";
import { withUnit } from "../shared/format";
import { useCatalog, useCreateLink } from "../shared/queries";
import { useSettings } from "../shared/settings";

/** A few answers, and a complete chain stands there. */
export function NewLink({ projectId }: { projectId: number | undefined }) {
  const [open, setOpen] = useState(false);
  const { unit } = useSettings();
  const catalog = useCatalog().data;
  const create = useCreateLink(projectId);
  const navigate = useNavigate();

  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const answers = Object.fromEntries(new FormData(event.currentTarget)) as Record<string, string>;
    const length = answers.length?.trim();
    create.mutate(
      {
        from_place: answers.from ?? "",
        to_place: answers.to ?? "",
        application: answers.application ?? "",
        fiber: answers.fiber ? [answers.fiber] : [],
        length_m: (length ? withUnit(length, unit) : null) as unknown as number | null,
      },
      {
        onSuccess: (made) => {
          setOpen(false);
          navigate(`/links/${made.id}`);
        },
      },
    );
  }

  if (!open)
    return (
      <Flex px={2} py="6px" borderBottomWidth="1px">
        <Button size="xs" variant="outline" width="100%" onClick={() => setOpen(true)}>
          New link
        </Button>
      </Flex>
    );
  return (
    <Box asChild p={2} borderBottomWidth="1px" bg="bg.subtle">
      <form onSubmit={submit} aria-label="New link">
        <Flex direction="column" gap={1}>
          <Input name="from" size="xs" placeholder="from: Harbor office" aria-label="From" required autoFocus />
          <Input name="to" size="xs" placeholder="to: Cold store" aria-label="To" required />
          <Input name="length" size="xs" placeholder={`how far: ${unit === "ft" ? "600 ft" : "185 m"}, empty if not known`} aria-label="How far" />
          <Select name="application" label="Application" options={catalog?.applications.map((a) => [a.name, a.name]) ?? []} />
          <Select name="fiber" label="Fiber" options={[...(catalog?.fibers.map((f) => [f.name, f.name]) ?? []), ["", "fiber not known"]].toReversed()} />
          <ProblemNote error={create.error} />
          <Flex gap={2}>
            <Button size="xs" type="submit" loading={create.isPending}>
              Make the chain
            </Button>
            <Button size="xs" variant="ghost" onClick={() => setOpen(false)}>
              Cancel
            </Button>
          </Flex>
        </Flex>
      </form>
    </Box>
  );
}

function Select({ name, label, options }: { name: string; label: string; options: string[][] }) {
  return (
    <NativeSelect.Root size="xs">
      <NativeSelect.Field name={name} aria-label={label}>
        {options.map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}
