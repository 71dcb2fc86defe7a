import { Box, Button, Text } from "@chakra-ui/react";
import { useState } from "react";
import { NavLink } from "react-router";

import type { ImportRequest } from "../shared/api";
import { CardHead } from "./CardHead";
import { Columns } from "./Columns";
import { used } from "./lastUse";
import { TableText } from "./TableText";
import { ProblemNote } from "../shared/ProblemNote";
import { useImportPreview, useTableImport } from "./queries";
import { useSettings } from "../shared/settings";

const EXAMPLE = "from,to,length,application,fiber\nHarbor office,Cold store,600 ft,10GBASE-SR,OM1 or OM2";

/** Links from a CSV table: columns matched, every bad line named before anything is stored. */
export function TableImport({ projectId, given = "" }: { projectId: number; given?: string }) {
  const { unit } = useSettings();
  const [text, setText] = useState(given);
  const [mapping, setMapping] = useState<Record<string, string> | null>(null);
  const wish: ImportRequest = { text, mapping, unit };
  const preview = useImportPreview(projectId, wish, text.trim() !== "");
  const store = useTableImport(projectId);
  const found = preview.data;
  const matched = mapping ?? found?.mapping ?? {};
  const bad = found?.problems ?? [];

  return (
    <Box as="section" aria-label="Links from a table" borderWidth="1px" px={3} py={2} mt={3}>
      <CardHead
        title="In: links from a table"
        what={`CSV with a head line, comma, semicolon or tab. Lengths as people type them; bare numbers are in ${unit}.`}
        use="in links"
        projectId={projectId}
        sample={["links.csv", EXAMPLE]}
      />
      <TableText
        fileLabel="CSV file"
        textLabel="CSV text"
        example={EXAMPLE}
        text={text}
        rows={5}
        onText={setText}
        onFile={(given) => {
          setMapping(null);
          setText(given);
        }}
      />
      <ProblemNote error={preview.error ?? store.error} />
      {found && found.columns.length > 0 && (
        <Columns
          columns={found.columns}
          fields={found.fields}
          unknown={found.unknown}
          mapping={matched}
          onMap={setMapping}
        />
      )}
      {found && text.trim() !== "" && (
        <Box mt={2} aria-live="polite" data-testid="import-preview">
          <Text fontWeight={600}>
            {found.names.length} links can be made
            {bad.length > 0 ? `, ${bad.length} lines are bad: nothing is imported until they are right` : ""}.
          </Text>
          {bad.slice(0, 12).map((problem) => (
            <Text key={problem.line + problem.message} fontSize="13px">
              line {problem.line}
              {problem.column ? `, ${problem.column}` : ""}: {problem.message}
            </Text>
          ))}
          {found.names.slice(0, 8).map((name, i) => (
            <Text key={i} fontSize="13px" color="fg.muted">
              {name}: {found.verdicts[i]}
            </Text>
          ))}
          {matched.application === undefined && (
            <Button size="xs" variant="outline" mt={2} mr={2} asChild>
              <NavLink to="/requirements" state={{ text }}>
                It has speeds: answer it as requirements
              </NavLink>
            </Button>
          )}
          <Button
            size="xs"
            mt={2}
            disabled={bad.length > 0 || found.names.length === 0 || store.isPending}
            onClick={() =>
              store.mutate(wish, {
                onSuccess: () => {
                  used(projectId, "in links");
                  setText("");
                },
              })
            }
          >
            Import {found.names.length} links
          </Button>
        </Box>
      )}
      {store.data && text === "" && (
        <Text role="status">
          {store.data.added} links were imported.
          {store.data.undecided > 0
            ? ` ${store.data.undecided} of them could take more than one way of the plan: each asks which on its page.`
            : ""}
        </Text>
      )}
    </Box>
  );
}
