import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { HouseRules, Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useCatalog, useHouseRules, useHouseRulesPreview, useLinkCount } from "../shared/queries";
import { HouseRule } from "./HouseRule";
import { OrderRules } from "./OrderRules";
import { asTyped } from "../shared/doubt";
import { DecimalSignRule } from "./DecimalSignRule";
import { VerdictEffect } from "./VerdictEffect";
import { movesText } from "./moves";

/** What the project decides: each rule with its reason, and the links whose verdict it would change. */
export function HouseRulesPage({ project }: { project: Project | undefined }) {
  const texts = useCatalog().data?.house_rules;
  if (!project || !texts)
    return (
      <Text p={4} color="fg.muted">
        Reading the house rules …
      </Text>
    );
  return <Rules key={project.id} project={project} texts={texts} />;
}

type Texts = NonNullable<ReturnType<typeof useCatalog>["data"]>["house_rules"];

function Rules({ project, texts }: { project: Project; texts: Texts }) {
  const [draft, setDraft] = useState<Record<string, string>>({});
  const [order, setOrder] = useState<Partial<HouseRules>>({});
  const save = useHouseRules(project);
  const known = project.house_rules as unknown as Record<string, string | number>;
  const value = (name: string) => draft[name] ?? String(known[name]);
  const typed = (name: string) => {
    if (typeof known[name] !== "number") return value(name);
    return value(name).trim() === String(known[name]) ? known[name] : asTyped(value(name));
  };
  const names = Object.keys(texts);
  const rules = {
    ...project.house_rules,
    ...Object.fromEntries(names.map((name) => [name, typed(name)])),
    ...order,
  } as HouseRules;
  const valid = names.every((name) => typed(name) !== null);
  const changed = names.some((name) => typed(name) !== known[name]) || Object.keys(order).length > 0;
  const [touched, setTouched] = useState("");
  const count = useLinkCount(project.id);
  const [turn, setTurn] = useState(0);
  const clear = () => {
    setTurn(turn + 1);
    setDraft({});
    setOrder({});
  };
  const preview = useHouseRulesPreview(project.id, rules, valid && changed);

  return (
    <Flex as="main" flex="1" minH={0} overflowY="auto" direction={{ base: "column", lg: "row" }} align="stretch">
      <Box flex="1" px={4} py={3}>
        <Heading as="h1" size="md" fontWeight={600}>
          House rules
        </Heading>
        <Text color="fg.muted" fontSize="13px" mb={1}>
          What this project decides for itself. Each rule says what it changes; what it does to the verdicts is
          shown before it is taken.
        </Text>
        {names.map((name) => (
          <HouseRule
            key={name}
            name={name}
            text={texts[name]!}
            value={value(name)}
            onChange={(next) => {
              setTouched(name);
              setDraft({ ...draft, [name]: next });
            }}
          >
            {name === touched && valid && changed && (
              <Text fontSize="13px" fontWeight={600} role="status">
                {preview.data ? movesText(preview.data) : "Reviewing all links …"}
              </Text>
            )}
          </HouseRule>
        ))}
        <OrderRules key={turn} rules={rules} onChange={(next) => setOrder({ ...order, ...next })} />
        <DecimalSignRule />
      </Box>
      <Box
        as="aside"
        aria-label="Effect of the rules"
        width={{ base: "auto", lg: "340px" }}
        flexShrink={0}
        borderLeftWidth={{ lg: "1px" }}
        px={4}
        py={3}
        bg="bg.subtle"
      >
        <Box position="sticky" top="12px" aria-live="polite" data-testid="house-effect">
          {!valid && <Text>Enter a number in each field.</Text>}
          {valid && !changed && (
            <Text color="fg.muted">Change a rule, and the links whose verdict it would change stand here.</Text>
          )}
          {valid && changed && <VerdictEffect changes={preview.data} links={count} />}
          <ProblemNote error={preview.error ?? save.error} />
          <Flex gap={2} mt={2}>
            <Button
              size="xs"
              disabled={!valid || !changed || preview.isError}
              loading={save.isPending}
              onClick={() => save.mutate(rules, { onSuccess: clear })}
            >
              Apply
            </Button>
            {changed && (
              <Button size="xs" variant="outline" onClick={clear}>
                Discard changes
              </Button>
            )}
          </Flex>
        </Box>
      </Box>
    </Flex>
  );
}
