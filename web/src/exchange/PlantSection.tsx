import { Box, Button, Flex, Text, Textarea } from "@chakra-ui/react";
import { useState } from "react";

import type { PlantTableRequest } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { CardHead } from "./CardHead";
import { shelfIn } from "./dropped";
import { used } from "./lastUse";
import { usePlantTable, usePlantTableImport } from "./queries";
import { useSettings } from "../shared/settings";

type Shelf = PlantTableRequest["shelf"];
const SHELVES: Shelf[] = ["places", "ways", "cables", "strands", "taps", "devices", "orders"];
const EXAMPLES: Record<Shelf, string> = {
  places: "id,name,kind,within\ngate,Gatehouse,building,",
  ways: "id,name,from,to,kind,length,bore\ngate duct,Duct to the gate,office,gate,duct,90 m,40",
  cables: "id,name,ways,grade,strands\ngate,Gate cable,gate duct,OS2,12",
  strands: "cable,strand,use\ngate,3,dead",
  taps: "id,name,cable,place,strands\ntap 4,Closure 4,gate,gate,1; 2",
  devices: "id,name,place,count,rate_mbps\nbarrier,Barrier,gate,1,100",
  orders: "id,name,count,why\ncord 1,duplex cord LC to LC,2,damaged",
};

/** The plant in and out as tables: a row of a known id is changed, others are added; every bad line is named first. */
export function PlantSection({ projectId, given: dropped = "" }: { projectId: number; given?: string }) {
  const { unit } = useSettings();
  const [shelf, setShelf] = useState<Shelf>(dropped ? shelfIn(dropped) : "ways");
  const [text, setText] = useState(dropped);
  const [workbook, setWorkbook] = useState("");
  const [mapping, setMapping] = useState<Record<string, string> | null>(null);
  const wish: PlantTableRequest = { shelf, text, workbook, mapping, unit };
  const given = text.trim() !== "" || workbook !== "";
  const preview = usePlantTable(projectId, wish, given);
  const store = usePlantTableImport(projectId);
  const found = given && !preview.error ? preview.data : undefined;
  const matched = mapping ?? found?.mapping ?? {};
  const moves = (found?.added.length ?? 0) + (found?.changed.length ?? 0);
  const clear = () => {
    setText("");
    setWorkbook("");
    setMapping(null);
  };

  async function take(file: File | undefined) {
    if (!file) return;
    clear();
    if (!file.name.endsWith(".xlsx")) return setText(await file.text());
    const bytes = new Uint8Array(await file.arrayBuffer());
    setWorkbook(btoa(bytes.reduce((all, byte) => all + String.fromCharCode(byte), "")));
  }

  return (
    <Box as="section" aria-label="The plant as tables" borderWidth="1px" px={3} py={2} mt={3}>
      <CardHead
        title="Places, ways, cables and strands as tables"
        what="CSV or XLSX, out and in again: a row of a known id is changed, others are added."
        use="plant"
        projectId={projectId}
        sample={[`${shelf}.csv`, EXAMPLES[shelf]]}
      />
      <Flex gap={2} mt={1} align="center" wrap="wrap">
        <Choice
          label="Table"
          value={shelf}
          options={SHELVES.map((name) => [name, name])}
          onChange={(name) => {
            setShelf(name as Shelf);
            setMapping(null);
          }}
        />
        {(["csv", "xlsx"] as const).map((kind) => (
          <Button key={kind} size="xs" variant="outline" asChild>
            <a href={`/api/v1/projects/${projectId}/plant/tables/${shelf}.${kind}`} download>
              {shelf}, {kind.toUpperCase()}
            </a>
          </Button>
        ))}
        <input
          type="file"
          accept=".csv,.txt,.xlsx,text/csv"
          aria-label="Table of the plant"
          onChange={(event) => void take(event.target.files?.[0])}
        />
      </Flex>
      <Textarea
        aria-label="Table text"
        className="figures"
        size="xs"
        rows={4}
        mt={2}
        borderColor="border.emphasized"
        placeholder={EXAMPLES[shelf]}
        value={workbook ? "(a workbook was chosen)" : text}
        readOnly={workbook !== ""}
        onChange={(event) => setText(event.target.value)}
      />
      <ProblemNote error={preview.error ?? store.error} />
      {found && found.columns.length > 0 && (
        <Flex gap={3} wrap="wrap" mt={2}>
          {found.fields.map((field) => (
            <Flex key={field} gap={1} align="center" fontSize="12.5px">
              {field.replaceAll("_", " ")}
              <Choice
                label={`Column for ${field}`}
                value={matched[field] ?? ""}
                options={[["", "none"], ...found.columns.map((column) => [column, column] as const)]}
                onChange={(column) =>
                  setMapping(
                    column
                      ? { ...matched, [field]: column }
                      : Object.fromEntries(Object.entries(matched).filter(([key]) => key !== field)),
                  )
                }
              />
            </Flex>
          ))}
        </Flex>
      )}
      {found && (
        <Box mt={2} aria-live="polite" data-testid="plant-preview">
          <Text fontWeight={600}>
            {found.problems.length > 0
              ? `${found.problems.length} lines are bad: nothing is imported until they are right.`
              : `${found.added.length} rows are new, ${found.changed.length} are changed.`}
          </Text>
          {found.problems.slice(0, 12).map((problem) => (
            <Text key={problem.line + problem.message} fontSize="13px">
              line {problem.line}
              {problem.column ? `, ${problem.column}` : ""}: {problem.message}
            </Text>
          ))}
          <Text fontSize="13px" color="fg.muted">
            {[...found.added, ...found.changed].slice(0, 12).join(", ")}
          </Text>
          <Button
            size="xs"
            mt={1}
            disabled={found.problems.length > 0 || moves === 0 || store.isPending}
            onClick={() =>
              store.mutate(wish, {
                onSuccess: () => {
                  used(projectId, "plant", shelf);
                  clear();
                },
              })
            }
          >
            Import {moves} {shelf}
          </Button>
        </Box>
      )}
      {store.isSuccess && !given && <Text role="status">The table was imported; one undo takes it back.</Text>}
    </Box>
  );
}
