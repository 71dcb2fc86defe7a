import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { BoxOut, Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { usePlant } from "../shared/queries";
import { BoxForm, wishOf } from "./BoxForm";
import { SecretForm } from "./SecretForm";
import { WritePort } from "./WritePort";
import { useBoxes, useConfirmBox, useReadBoxes, useSetBox } from "./queries";

/** The boxes of a project: switches and converters, how they are asked, and what they said last. */
export function BoxesPage({ project }: { project: Project | undefined }) {
  const found = useBoxes(project);
  const read = useReadBoxes(project);
  const places = usePlant(project).data?.plant.places ?? [];
  const boxes = found.data?.boxes ?? [];
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Flex justify="space-between" align="baseline" wrap="wrap" gap={2}>
        <Heading as="h1" size="md" fontWeight={600}>
          Boxes
        </Heading>
        <Button
          size="sm"
          variant="outline"
          loading={read.isPending}
          loadingText="Reading"
          onClick={() => read.mutate({})}
        >
          Read all
        </Button>
      </Flex>
      <Text fontSize="13px" color="fg.muted" maxW="90ch">
        A box with an address is read by SNMP, only the ports that are planned. How it is asked is kept in a file of
        its own, bound to the address, and is never shown, exported or backed up. An address that came with a file
        is asked only after you have confirmed it.
      </Text>
      <ProblemNote error={found.error ?? read.error} />
      {found.data?.secrets_trouble && <Text role="alert">{found.data.secrets_trouble}</Text>}
      {found.data && boxes.length === 0 && (
        <Text mt={2} fontSize="13px" maxW="70ch">
          No boxes yet. Add one below: "Core 1", a switch at 192.0.2.10:161, or a converter without an address,
          whose values are typed. Then say at the ends of a link which ports they are.
        </Text>
      )}
      <Box as="ul" p={0} listStyleType="none" mt={2}>
        {boxes.map((one) => (
          <BoxRow
            key={one.row.id}
            box={one}
            project={project}
            rates={found.data?.rates ?? []}
            place={places.find((p) => p.id === one.row.place)?.name ?? ""}
          />
        ))}
      </Box>
      {found.data && <BoxForm project={project} places={places.map((one) => [one.id, one.name] as const)} />}
    </Box>
  );
}

interface RowProps {
  box: BoxOut;
  project: Project | undefined;
  place: string;
  rates: readonly string[];
}

function BoxRow({ box, project, place, rates }: RowProps) {
  const { row } = box;
  const [open, setOpen] = useState<"" | "secret" | "change" | "write">("");
  const confirm = useConfirmBox(project);
  const set = useSetBox(project);
  const places = usePlant(project).data?.plant.places ?? [];
  const press = (name: "secret" | "change" | "write", words: string) => (
    <Button
      size="xs"
      variant={open === name ? "solid" : "outline"}
      aria-expanded={open === name}
      aria-label={`${words}: ${row.name}`}
      onClick={() => setOpen(open === name ? "" : name)}
    >
      {words}
    </Button>
  );
  return (
    <Box as="li" borderTopWidth="1px" py="5px" fontSize="13px" data-box={row.name}>
      <Flex gap={3} align="center" wrap="wrap">
        <Box width="150px" fontWeight={600}>
          {row.name}
        </Box>
        <Box width="200px">
          {row.kind}
          {place ? `, ${place}` : ""}
        </Box>
        <Box width="150px" className="figures">
          {row.address || "typed by hand"}
        </Box>
        <Box width="210px">
          {row.protocol === "unknown"
            ? "tree not said"
            : row.protocol === "none"
              ? "no tree"
              : `${row.protocol}, priority ${row.priority}`}
          , {row.ports?.length ?? 0} ports
        </Box>
        {row.address && !box.reached && (
          <Button size="xs" onClick={() => confirm.mutate({ row: row.id })}>
            Confirm {row.address}
          </Button>
        )}
        {row.address && box.reached && press("secret", box.secret ? `asked by ${box.secret}` : "How is it asked?")}
        {press("change", "Change")}
        {box.secret && box.reached && press("write", "Set a port")}
        <Button
          size="xs"
          variant="outline"
          aria-label={`Take out ${row.name}`}
          onClick={() => set.mutate({ ...wishOf(row), remove: true })}
        >
          Take out
        </Button>
        <Text color="fg.muted">
          {box.trouble ? "" : box.seconds != null ? `answered in ${box.seconds.toFixed(1)} s` : ""}
        </Text>
      </Flex>
      {box.trouble && (
        <Text borderLeftWidth="3px" borderColor="fg" pl={2} role="status">
          {box.trouble}
        </Text>
      )}
      {open === "secret" && <SecretForm project={project} row={row.id} onDone={() => setOpen("")} />}
      {open === "change" && (
        <BoxForm
          project={project}
          places={places.map((one) => [one.id, one.name] as const)}
          row={row}
          onDone={() => setOpen("")}
        />
      )}
      {open === "write" && <WritePort project={project} row={row} rates={rates} />}
      <ProblemNote error={confirm.error ?? set.error} />
    </Box>
  );
}
