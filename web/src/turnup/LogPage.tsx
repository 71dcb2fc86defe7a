import { Box, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useByWhom } from "../proof/who";
import type { Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useSettled } from "../shared/useSettled";
import { LogLines } from "./LogLines";
import { NoteForm } from "./NoteForm";
import { WhoHere } from "./WhoHere";
import { useLogbook } from "./queries";

/** The logbook of a project: found by label, place, serial number, person or day. */
export function LogPage({ project }: { project: Project | undefined }) {
  const [q, setQ] = useState("");
  const asked = useSettled(q);
  const found = useLogbook(project, asked);
  const [by, setBy] = useByWhom();
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Heading as="h1" size="md" fontWeight={600}>
        Logbook
      </Heading>
      <label style={{ fontSize: 13 }}>
        find a label, place, serial number, person or day{" "}
        <Input
          size="sm"
          width="260px"
          borderColor="border.emphasized"
          value={q}
          onChange={(event) => setQ(event.target.value)}
        />
      </label>
      <WhoHere by={by} onChange={setBy} />
      <ProblemNote error={found.error} />
      {found.data && asked && found.data.length === 0 && (
        <Text fontSize="13px">No entry has all these words. Try fewer, or a day such as 2026-11-26.</Text>
      )}
      {found.data && !asked ? (
        <NoteForm log={found.data} project={project} />
      ) : (
        found.data && found.data.length > 0 && <LogLines lines={found.data} withLink />
      )}
    </Box>
  );
}
