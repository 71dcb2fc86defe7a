import { Box, Button, Flex, Input } from "@chakra-ui/react";
import { useState } from "react";

import { asTyped } from "../shared/doubt";
import { VerdictEffect } from "../app/VerdictEffect";
import type { FigureLine, HouseRules, Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useHouseRulesPreview } from "../shared/queries";

interface Props {
  project: Project;
  line: FigureLine;
  rulesWith: (line: FigureLine, value: number, source: string) => HouseRules;
  busy: boolean;
  onTake: (rules: HouseRules) => void;
  onClose: () => void;
}

/** A value and its source in the place of a catalog figure, with the verdicts that it would move. */
export function OwnFigureForm({ project, line, rulesWith, busy, onTake, onClose }: Props) {
  const [text, setText] = useState(String(line.value));
  const [source, setSource] = useState("");
  const value = asTyped(text);
  const changed = value !== null && text.trim() !== String(line.value);
  const valid = value !== null && source.trim().length >= 3;
  const rules = rulesWith(line, value ?? line.value, source.trim() || "not named yet");
  const preview = useHouseRulesPreview(project.id, rules, changed);
  return (
    <Box asChild mt={1} p={2} borderWidth="1px" bg="bg.subtle">
      <form
        aria-label={`Own figure for ${line.label}`}
        onSubmit={(event) => {
          event.preventDefault();
          if (valid) onTake(rules);
        }}
      >
        <Flex gap={2} align="center" wrap="wrap">
          <Input
            size="xs"
            width="84px"
            className="figures"
            aria-label={`Value in ${line.unit}`}
            borderColor="border.emphasized"
            value={text}
            autoFocus
            onChange={(event) => setText(event.target.value)}
          />
          {line.unit}
          <Input
            size="xs"
            flex="1"
            minW="180px"
            aria-label="Source"
            placeholder="source: datasheet of make A, revision 3, page 2"
            borderColor="border.emphasized"
            value={source}
            onChange={(event) => setSource(event.target.value)}
          />
          <Button size="xs" type="submit" disabled={!valid || preview.isError} loading={busy}>
            Use it in this project
          </Button>
          <Button size="xs" variant="ghost" onClick={onClose}>
            Cancel
          </Button>
        </Flex>
        <Box fontSize="12.5px" mt={1} aria-live="polite" data-testid="own-effect">
          {value === null && "Enter a number."}
          {value !== null &&
            source.trim().length < 3 &&
            "Name who guarantees it: a figure without a source decides nothing."}
          {preview.data && changed && <VerdictEffect changes={preview.data} />}
        </Box>
        <ProblemNote error={preview.error} />
      </form>
    </Box>
  );
}
