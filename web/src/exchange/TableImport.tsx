import { Box, Button, Flex, Heading, Text, Textarea } from "@chakra-ui/react";
import { useState } from "react";

import type { ImportRequest } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { useImportPreview, useTableImport } from "../shared/queries";
import { useSettings } from "../shared/settings";

const FIELDS = ["name", "from", "to", "length", "application", "fiber", "pairs", "splices", "notes"];
const EXAMPLE = "from,to,length,application,fiber\nHarbor office,Cold store,600 ft,10GBASE-SR,OM1 or OM2";

/** Links from a CSV table: columns matched, every bad line named before anything is stored. */
export function TableImport({ projectId }: { projectId: number }) {
  const { unit } = useSettings();
  const [text, setText] = useState("");
  const [mapping, setMapping] = useState<Record<string, string> | null>(null);
  const wish: ImportRequest = { text, mapping, unit };
  const preview = useImportPreview(projectId, wish, text.trim() !== "");
  const store = useTableImport(projectId);
  const found = preview.data;
  const matched = mapping ?? found?.mapping ?? {};
  const bad = found?.problems ?? [];

  function match(field: string, column: string) {
    const next = { ...matched };
    if (column) next[field] = column;
    else delete next[field];
    setMapping(next);
  }

  return (
    <Box as="section" aria-label="Links from a table" mt={6}>
      <Heading as="h2" size="md" fontWeight={600}>
        In: links from a table
      </Heading>
      <Text color="fg.muted" fontSize="13px">
        CSV with a head line, comma, semicolon or tab. Lengths as people type them; bare numbers are in {unit}.
      </Text>
      <input
        type="file"
        accept=".csv,.txt,text/csv"
        aria-label="CSV file"
        onChange={async (event) => {
          const file = event.target.files?.[0];
          if (file) {
            setMapping(null);
            setText(await file.text());
          }
        }}
      />
      <Textarea aria-label="CSV text" className="figures" size="xs" rows={5} mt={2} borderColor="border.emphasized" placeholder={EXAMPLE} value={text} onChange={(event) => setText(event.target.value)} />
      <ProblemNote error={preview.error ?? store.error} />
      {found && found.columns.length > 0 && (
        <Flex gap={3} wrap="wrap" mt={2}>
          {FIELDS.map((field) => (
            <Flex key={field} gap={1} align="center" fontSize="13px">
              {field}
              <Choice label={`Column for ${field}`} value={matched[field] ?? ""} options={[["", "none"], ...found.columns.map((c) => [c, c] as const)]} onChange={(column) => match(field, column)} />
            </Flex>
          ))}
        </Flex>
      )}
      {found && text.trim() !== "" && (
        <Box mt={2} aria-live="polite" data-testid="import-preview">
          <Text fontWeight={600}>
            {found.names.length} links can be made{bad.length > 0 ? `, ${bad.length} lines are bad: nothing is imported until they are right` : ""}.
          </Text>
          {bad.slice(0, 12).map((problem) => (
            <Text key={problem.line + problem.message} fontSize="13px">
              line {problem.line}{problem.column ? `, ${problem.column}` : ""}: {problem.message}
            </Text>
          ))}
          {found.names.slice(0, 8).map((name, i) => (
            <Text key={i} fontSize="13px" color="fg.muted">
              {name}: {found.verdicts[i]}
            </Text>
          ))}
          <Button size="xs" mt={2} disabled={bad.length > 0 || found.names.length === 0 || store.isPending} onClick={() => store.mutate(wish, { onSuccess: () => setText("") })}>
            Import {found.names.length} links
          </Button>
        </Box>
      )}
      {store.data && text === "" && <Text role="status">{store.data.added} links were imported.</Text>}
    </Box>
  );
}
