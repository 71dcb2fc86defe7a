import { Box, Button, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { type Problem, ProblemError, type Verified } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { VerdictMark } from "../shared/VerdictMark";

function Field({ label, value, onChange }: { label: string; value: string; onChange: (next: string) => void }) {
  return (
    <label>
      {label}{" "}
      <Input
        size="xs"
        width="240px"
        className="figures"
        borderColor="border.emphasized"
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}

/** A package that came back: whole or not, and what vouches for it. */
export function PackageCheck() {
  const [key, setKey] = useState("");
  const [receipt, setReceipt] = useState("");
  const [own, setOwn] = useState(false);
  const [file, setFile] = useState<File | null>(null);
  const [found, setFound] = useState<Verified | null>(null);
  const [error, setError] = useState<unknown>(null);
  async function check() {
    if (!file) return;
    setError(null);
    setFound(null);
    const given = new URLSearchParams({ key, receipt, own: String(own) });
    const response = await fetch(`/api/v1/handovers/verify?${given.toString()}`, {
      method: "POST",
      headers: { "content-type": "application/octet-stream" },
      body: file,
    });
    const content: unknown = await response.json().catch(() => null);
    if (response.ok) setFound(content as Verified);
    else setError(content ? new ProblemError(content as Problem) : "The server did not answer: try again.");
  }
  return (
    <Box as="section" aria-label="Check a package" mt={5} fontSize="13px">
      <Heading as="h2" size="sm" fontWeight={600}>
        Check a package
      </Heading>
      <Flex gap={2} wrap="wrap" align="center">
        <label>
          package{" "}
          <Input
            type="file"
            size="xs"
            width="220px"
            accept=".zip"
            borderColor="border.emphasized"
            onChange={(event) => setFile(event.target.files?.[0] ?? null)}
          />
        </label>
        <Field label="fingerprint of the signer's key" value={key} onChange={setKey} />
        <Field label="archive digest on the receipt" value={receipt} onChange={setReceipt} />
        <label>
          <input type="checkbox" checked={own} onChange={(event) => setOwn(event.target.checked)} /> signed here
        </label>
        <Button size="xs" disabled={!file} onClick={() => void check()}>
          Check it
        </Button>
      </Flex>
      {found && (
        <Flex gap={2} mt={1} role="status" align="flex-start">
          <VerdictMark verdict={!found.whole ? "fail" : found.proven ? "pass" : "unknown"} />
          <Box>
            <Text fontWeight={600}>{found.words}</Text>
            {(found.problems ?? []).map((words) => (
              <Text key={words}>{words}</Text>
            ))}
            <Text color="fg.muted">
              {found.of} {found.name} {found.revision ? `revision ${found.revision}` : ""} {found.signer} {found.on}
            </Text>
          </Box>
        </Flex>
      )}
      <ProblemNote error={error} />
    </Box>
  );
}
