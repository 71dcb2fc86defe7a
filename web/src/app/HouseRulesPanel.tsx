import { Box, Button, Flex, Input, Text, chakra } from "@chakra-ui/react";
import { useState } from "react";

import type { HouseRules, Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { sourceText } from "../shared/format";
import { useCatalog, useHouseRules, useHouseRulesPreview } from "../shared/queries";

const UNITS: Record<keyof HouseRules, string> = { margin_db: "dB", offset_launch_from_m: "m" };

/** What the project decides: each rule with its reason, and the links whose verdict it would change. */
export function HouseRulesPanel({ project, onClose }: { project: Project; onClose: () => void }) {
  const texts = useCatalog().data?.house_rules ?? {};
  const [draft, setDraft] = useState<Record<string, string>>({});
  const save = useHouseRules(project.id);
  const known = project.house_rules;
  const rules = Object.fromEntries(
    Object.entries(known).map(([name, value]) => [name, Number((draft[name] ?? String(value)).replace(",", ".") || NaN)]),
  ) as unknown as HouseRules;
  const valid = Object.values(rules).every((value) => Number.isFinite(value));
  const changed = Object.entries(rules).some(([name, value]) => value !== known[name as keyof HouseRules]);
  const preview = useHouseRulesPreview(project.id, rules, valid && changed);

  return (
    <Box as="section" aria-label="House rules" width="100%" py={2}>
      <Flex gap={6} wrap="wrap" align="flex-start">
        {(Object.keys(UNITS) as (keyof HouseRules)[]).map((name) => (
          <Box key={name} maxW="44ch">
            <Flex gap={2} align="center">
              <chakra.label htmlFor={`rule-${name}`} fontWeight={600}>
                {texts[name]?.title ?? name}
              </chakra.label>
              <Input
                id={`rule-${name}`}
                size="xs"
                width="64px"
                className="figures"
                borderColor="border.emphasized"
                value={draft[name] ?? String(known[name])}
                onChange={(event) => setDraft({ ...draft, [name]: event.target.value })}
              />
              <span>{UNITS[name]}</span>
            </Flex>
            <Text fontSize="12.5px" color="fg.muted">
              Default {texts[name]?.default} {UNITS[name]}. {texts[name]?.reason}
              {texts[name] && ` (${sourceText(texts[name].source)})`}
            </Text>
          </Box>
        ))}
        <Box minW="24ch" aria-live="polite" data-testid="house-effect">
          {!valid && <Text>Type a number in each field.</Text>}
          {valid && changed && preview.data && (
            <>
              <Text fontWeight={600}>
                {preview.data.length === 0 ? "No verdict changes." : `${preview.data.length} verdict${preview.data.length === 1 ? " changes" : "s change"}:`}
              </Text>
              {preview.data.slice(0, 8).map((change) => (
                <Text key={change.id} fontSize="12.5px">
                  {change.name}: {change.before} to {change.after}
                </Text>
              ))}
            </>
          )}
          <ProblemNote error={preview.error ?? save.error} />
          <Flex gap={2} mt={1}>
            <Button size="xs" disabled={!valid || !changed || preview.isError} onClick={() => save.mutate(rules, { onSuccess: () => setDraft({}) })}>
              Take these rules
            </Button>
            <Button size="xs" variant="outline" onClick={onClose}>
              Close
            </Button>
          </Flex>
        </Box>
      </Flex>
    </Box>
  );
}
