import { Box, Button, Flex, Text, Textarea } from "@chakra-ui/react";
import { useState } from "react";

import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { useModule } from "./queries";

const PAGES: Record<string, readonly string[]> = {
  "SFF-8472": ["a0", "a2"],
  "SFF-8636": ["lower", "upper_00", "upper_03"],
  CMIS: ["lower", "upper_00", "upper_01", "upper_02", "upper_11"],
};

/** A dump of a module's memory, decoded and held against the plan. Nothing is stored. */
export function ModulePages({ id, end }: { id: number; end: "left" | "right" }) {
  const [layout, setLayout] = useState("SFF-8472");
  const [pages, setPages] = useState<Record<string, string>>({});
  const read = useModule(id);
  const filled = Object.fromEntries(
    (PAGES[layout] ?? []).map((name) => [name, pages[name] ?? ""]).filter(([, hex]) => hex),
  );
  const seen = read.data?.seen;
  return (
    <Box mt={2} fontSize="13px" role="group" aria-label="Module pages">
      <Flex gap={2} wrap="wrap" align="center">
        <Choice
          label="Layout"
          value={layout}
          onChange={setLayout}
          options={Object.keys(PAGES).map((one) => [one, one] as const)}
        />
        <Button
          size="sm"
          disabled={!Object.keys(filled).length}
          loading={read.isPending}
          onClick={() => read.mutate({ layout, pages: filled, end })}
        >
          Read and compare
        </Button>
      </Flex>
      {(PAGES[layout] ?? []).map((name) => (
        <label key={name} style={{ display: "block", marginTop: 4 }}>
          {name}, hexadecimal
          <Textarea
            size="xs"
            rows={2}
            className="figures"
            borderColor="border.emphasized"
            value={pages[name] ?? ""}
            placeholder="03 04 07 10 …"
            onChange={(event) => setPages({ ...pages, [name]: event.target.value })}
          />
        </label>
      ))}
      <ProblemNote error={read.error} />
      {seen && (
        <Box mt={1} role="status">
          <Text fontWeight={600}>
            {seen.present && seen.identity
              ? [
                  seen.identity.identifier,
                  ...(seen.identity.compliance ?? []),
                  seen.identity.part,
                  seen.identity.serial && `serial ${seen.identity.serial}`,
                ]
                  .filter(Boolean)
                  .join(", ")
              : "No module answers."}
          </Text>
          <Text>
            {(seen.lanes ?? [])
              .map(
                (lane) =>
                  `lane ${lane.lane}: sends ${lane.tx?.dbm?.toFixed(2) ?? "nothing told"}, receives ${lane.rx ? (lane.rx.dbm?.toFixed(2) ?? "no light") : "nothing told"}`,
              )
              .join("; ")}
          </Text>
          {(read.data?.differences ?? []).map((one) => (
            <Text key={one.code + one.words}>
              {one.severity}: {one.words} {one.do}
            </Text>
          ))}
          {read.data?.differences.length === 0 && <Text>As planned.</Text>}
        </Box>
      )}
    </Box>
  );
}
