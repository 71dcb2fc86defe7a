import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { CertifiedWish, LinkDetail, ProofOut } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { figureText, sourceText } from "../shared/format";
import { asTyped } from "../shared/doubt";
import { useCertify } from "./queries";
import { type ByWhom, signed } from "./who";

type Value = CertifiedWish["values"][number];
const ASKED: readonly (readonly [Value["parameter"], string])[] = [
  ["length", "m"],
  ["delay", "ns"],
  ["skew", "ns"],
  ["insertion loss", "dB"],
  ["NEXT", "dB"],
  ["return loss", "dB"],
];
const BY_FREQUENCY: readonly string[] = ["insertion loss", "NEXT", "return loss"];

/** Twisted pair is certified by its own standard: what the tester said, each value beside its limit there. */
export function CopperProof({ proof, detail, by }: { proof: ProofOut["proof"]; detail: LinkDetail; by: ByWhom }) {
  const certify = useCertify(detail);
  const [category, setCategory] = useState(proof.category || "Cat 6A");
  const [values, setValues] = useState<Record<string, string>>({});
  const put = (key: string) => (event: { target: { value: string } }) =>
    setValues({ ...values, [key]: event.target.value });
  function record(wired: boolean) {
    const read: Value[] = [{ parameter: "wire map", value: null, at_mhz: null, pairs: "", passes: wired }];
    for (const [parameter] of ASKED) {
      const text = values[parameter]?.trim();
      if (!text) continue;
      const at = values[`${parameter} at`]?.trim();
      read.push({
        parameter,
        value: asTyped(text),
        at_mhz: asTyped(at ?? ""),
        pairs: "",
        passes: null,
      });
    }
    certify.mutate({ ...signed(by), category, values: read }, { onSuccess: () => setValues({}) });
  }
  const box = (key: string, label: string) => (
    <Input
      size="sm"
      width="76px"
      className="figures"
      borderColor="border.emphasized"
      inputMode="decimal"
      aria-label={label}
      value={values[key] ?? ""}
      onChange={put(key)}
    />
  );
  return (
    <Box as="section" aria-label="Twisted pair" mt={3} fontSize="13px">
      <Text fontWeight={600}>What the tester said</Text>
      <Flex gap={3} wrap="wrap" align="center" mt={1}>
        <Choice
          label="Category"
          value={category}
          options={["Cat 5e", "Cat 6", "Cat 6A"].map((one) => [one, one] as const)}
          onChange={setCategory}
        />
        {ASKED.map(([parameter, unit]) => (
          <Flex key={parameter} gap={1} align="center">
            <span>{parameter}</span>
            {box(parameter, `${parameter}, ${unit}`)}
            <span>{BY_FREQUENCY.includes(parameter) ? `${unit} at` : unit}</span>
            {BY_FREQUENCY.includes(parameter) && (
              <>
                {box(`${parameter} at`, `${parameter} at, MHz`)} <span>MHz</span>
              </>
            )}
          </Flex>
        ))}
      </Flex>
      <Flex gap={2} mt={2} className="no-print">
        <Button size="sm" loading={certify.isPending} onClick={() => record(true)}>
          Wire map right: write it down
        </Button>
        <Button size="sm" variant="outline" onClick={() => record(false)}>
          Wire map wrong
        </Button>
      </Flex>
      <ProblemNote error={certify.error} />
      <Box as="ul" p={0} mt={2} listStyleType="none">
        {proof.copper.map((one) => (
          <Box as="li" key={one.value.parameter} borderTopWidth="1px" py="3px" data-copper={one.value.parameter}>
            <b>{one.value.parameter}</b>{" "}
            {one.value.value != null ? `${figureText(one.value.value, 1)} ${one.unit}` : ""}
            {one.value.at_mhz != null ? ` at ${one.value.at_mhz} MHz` : ""}
            {one.limit != null ? `, limit ${figureText(one.limit, 1)} ${one.unit}` : ""}:{" "}
            <b>{one.passes === null ? "not judged" : one.passes ? "pass" : "fail"}</b>{" "}
            {one.differs && <span role="note">{one.differs}. </span>}
            {one.source && <span style={{ opacity: 0.7 }}>{sourceText(one.source)}</span>}
          </Box>
        ))}
      </Box>
    </Box>
  );
}
