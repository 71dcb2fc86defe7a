import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Project } from "../shared/api";
import { Columns } from "../exchange/Columns";
import { TableText } from "../exchange/TableText";
import { ProblemNote } from "../shared/ProblemNote";
import { Toggle } from "../shared/Toggle";
import { BatchQuestions } from "./BatchQuestions";
import { useImportReadings, useReadingsPreview } from "./queries";

const EXAMPLE =
  "link,strand,wavelength,loss,date,time,instrument,calibrated,operator,place\n" +
  "Crane 3,1,1310,0.82,2026-11-26,09:30,PM-0417,2026-03-02,night crew,Harbor office";
const KEY = "reading-columns";

/** The columns of the last file, so that a meter's own names are matched once. */
function kept(): Record<string, string> | null {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? "null") as Record<string, string> | null;
  } catch {
    return null;
  }
}

/** Readings from a meter's own table: columns of any name, matched once and remembered. */
export function ReadingsTable({ project }: { project: Project | undefined }) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState("");
  const [workbook, setWorkbook] = useState("");
  const [mapping, setMapping] = useState<Record<string, string> | null>(kept);
  const [said, setSaid] = useState({ tester_zero: "", cleaned: false, length_checked: false });
  const wish = { text, workbook, mapping, ...said };
  const found = useReadingsPreview(project, wish, Boolean(text.trim() || workbook)).data;
  const take = useImportReadings(project);
  const map = (next: Record<string, string>) => {
    localStorage.setItem(KEY, JSON.stringify(next));
    setMapping(next);
  };
  async function book(file: File | undefined) {
    if (!file) return;
    const bytes = new Uint8Array(await file.arrayBuffer());
    let binary = "";
    for (const byte of bytes) binary += String.fromCharCode(byte);
    setText("");
    setWorkbook(btoa(binary));
  }
  return (
    <Box mt={2} fontSize="13px" className="no-print">
      <Toggle words="Readings from a table" on={open} onChange={() => setOpen(!open)} />
      {open && (
        <Box borderWidth="1px" p={3} mt={1}>
          <Text color="fg.muted" mb={1}>
            CSV or XLSX with columns of any name. All of it is taken as one entry, or nothing while a line fits no
            link.
          </Text>
          <Flex gap={3} wrap="wrap" align="center">
            <Box flex="1" minW="280px">
              <TableText
                fileLabel="File of readings"
                textLabel="Readings as text"
                example={EXAMPLE}
                text={text}
                rows={4}
                onText={(next) => (setText(next), setWorkbook(""))}
                onFile={(next) => (setText(next), setWorkbook(""))}
              />
            </Box>
            <label>
              or a workbook{" "}
              <input
                type="file"
                accept=".xlsx"
                aria-label="Workbook of readings"
                onChange={(event) => void book(event.target.files?.[0])}
              />
            </label>
          </Flex>
          {found && (
            <>
              <Columns
                columns={found.columns}
                fields={found.fields}
                unknown={found.unknown}
                mapping={found.mapping}
                onMap={map}
              />
              {found.problems.slice(0, 12).map((bad) => (
                <Text key={`${bad.line}${bad.message}`}>
                  line {bad.line}: {bad.message}
                </Text>
              ))}
              <BatchQuestions found={found} said={said} onSay={(next) => setSaid({ ...said, ...next })} />
              <Button
                size="sm"
                mt={2}
                disabled={found.problems.length > 0 || found.count === 0}
                loading={take.isPending}
                onClick={() => take.mutate(wish, { onSuccess: () => (setText(""), setWorkbook("")) })}
              >
                Write {found.count} readings down
              </Button>
            </>
          )}
          {take.data && take.data.taken !== undefined && take.data.taken > 0 && (
            <Text role="status">{take.data.taken} readings were written down.</Text>
          )}
          <ProblemNote error={take.error} />
        </Box>
      )}
    </Box>
  );
}
