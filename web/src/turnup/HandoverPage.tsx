import { Box, Button, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link as RouterLink } from "react-router";

import { useByWhom } from "../proof/who";
import { type Problem, ProblemError, type Project, type Verified } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { VerdictMark } from "../shared/VerdictMark";
import { HandoverList, SignForm } from "./SignForm";
import { WhoHere } from "./WhoHere";
import { useHandovers, useTurnUps } from "./queries";

/** Hand over a place or the whole project, and check a package that came back. */
export function HandoverPage({ project }: { project: Project | undefined }) {
  const [by, setBy] = useByWhom();
  const [place, setPlace] = useState("");
  const links = useTurnUps(project).data?.links;
  const found = useHandovers(project);
  const places = [...new Set((links ?? []).flatMap((one) => one.places))].sort();
  const lit = (links ?? []).filter((one) => one.state === "lit").length;
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Heading as="h1" size="md" fontWeight={600}>
        Hand over
      </Heading>
      <Text fontSize="13px" color="fg.muted" maxW="90ch">
        A hand-over holds the chain as built, the strand map, readings, module identities, what differs from the
        plan, and every open point by name. It is signed with this installation's key, whose fingerprint is printed
        on the sheet. The receipt with the digest of the archive stays apart from it. Signing freezes a revision.
      </Text>
      {links?.length === 0 && (
        <Text mt={2} fontSize="13px">
          Nothing to hand over yet: draw a link under Links, such as "Harbor office" to "Lock house", test it, turn
          it up.
        </Text>
      )}
      {links !== undefined && links.length > 0 && (
        <>
          <WhoHere by={by} onChange={setBy} />
          <Flex gap={3} align="center" mt={2} fontSize="13px" wrap="wrap">
            <Choice
              label="What is handed over"
              value={place}
              onChange={setPlace}
              options={[["", "the whole project"], ...places.map((one) => [one, one] as const)]}
            />
            <Text>
              {lit} of {links.length} links are lit as planned. A single link is handed over on{" "}
              <RouterLink to="/turnup">its own page</RouterLink>.
            </Text>
          </Flex>
          <SignForm
            key={place}
            project={project}
            place={place || undefined}
            name={place || (project?.name ?? "")}
          />
        </>
      )}
      <ProblemNote error={found.error} />
      {(found.data?.length ?? 0) > 0 && (
        <Box mt={4} fontSize="13px">
          <Heading as="h2" size="sm" fontWeight={600}>
            All that was signed
          </Heading>
          <HandoverList list={found.data ?? []} />
        </Box>
      )}
      <Check />
    </Box>
  );
}

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
function Check() {
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
