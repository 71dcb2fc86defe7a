import { Text, chakra } from "@chakra-ui/react";

import type { Fix } from "../shared/api";
import { VerdictMark } from "../shared/VerdictMark";
import { marginText } from "../shared/format";

/** A fix with its effect written on it before it is taken. */
export function FixButton({
  fix,
  onTake,
  onTry,
  busy,
}: {
  fix: Fix;
  onTake: () => void;
  onTry: (fix: Fix | null) => void;
  busy: boolean;
}) {
  const { effect } = fix;
  return (
    <chakra.button
      type="button"
      onClick={onTake}
      onMouseEnter={() => onTry(fix)}
      onMouseLeave={() => onTry(null)}
      onFocus={() => onTry(fix)}
      onBlur={() => onTry(null)}
      disabled={busy}
      width="100%"
      textAlign="left"
      mt={2}
      px={2}
      py="5px"
      borderWidth="1px"
      borderColor="border.emphasized"
      borderRadius="l2"
      bg="bg.panel"
      _hover={{ borderColor: "fg" }}
      data-fix={fix.label}
    >
      <Text>{fix.label}</Text>
      {effect && (
        <Text fontSize="12.5px" color="fg.muted">
          then <VerdictMark verdict={effect.verdict} size={11} /> {effect.verdict}
          {effect.on_estimate && ["pass", "marginal"].includes(effect.verdict) ? " on estimate" : ""}
          {effect.margin_db !== null && ` ${marginText(effect.margin_db)}`}
          {effect.remaining > 0 && `, ${effect.remaining} left to look at`}
        </Text>
      )}
      {fix.caution && (
        <Text fontSize="12.5px" borderLeftWidth="3px" borderColor="fg" pl={2} mt={1}>
          {fix.caution}
        </Text>
      )}
    </chakra.button>
  );
}
