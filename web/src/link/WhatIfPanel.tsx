import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { LinkDetail, WhatIf } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { VerdictMark } from "../shared/VerdictMark";
import { lengthText, marginText, withUnit } from "../shared/format";
import { type EditWish, useWhatIf } from "./queries";
import { useCatalog, useProject } from "../shared/queries";
import { useSettings } from "../shared/settings";
import { useSettled } from "../shared/useSettled";

/** What if it were longer, faster, or counted otherwise: tried on this link without leaving or changing it. */
export function WhatIfPanel({ detail, edit }: { detail: LinkDetail; edit: (wish: EditWish) => void }) {
  const { unit } = useSettings();
  const catalog = useCatalog().data;
  const house = useProject().data?.house_rules;
  const [length, setLength] = useState("");
  const [application, setApplication] = useState("");
  const [profile, setProfile] = useState("");
  const wish = useSettled<WhatIf>({
    length_m: (length.trim() ? withUnit(length.trim(), unit) : null) as unknown as number | null,
    application: application || null,
    profile: (profile || null) as WhatIf["profile"],
  });
  const tried = useWhatIf(detail, wish);
  const found = tried.data;
  const profiles = Object.keys(catalog?.house_rules.profile?.choices ?? {});
  const moved =
    found?.review.margin_db != null && detail.review.margin_db !== null
      ? found.review.margin_db - detail.review.margin_db
      : null;
  const asked = length.trim() !== "" || application !== "" || profile !== "";
  return (
    <Box
      as="section"
      aria-label="What if"
      className="no-print"
      borderWidth="1px"
      bg="bg.subtle"
      px={2}
      py={2}
      mt={2}
      fontSize="13px"
    >
      <Flex gap={2} wrap="wrap" align="center">
        <Text fontWeight={600}>What if</Text>
        <Input
          size="xs"
          width="110px"
          aria-label="Length to try"
          placeholder={`length ${lengthText(detail.review.length_m, unit)}`}
          borderColor="border.emphasized"
          bg="bg.panel"
          value={length}
          onChange={(event) => setLength(event.target.value)}
        />
        <Choice
          label="Application to try"
          value={application}
          options={[
            ["", "this application"],
            ...(catalog?.applications.map((a): [string, string] => [a.name, a.name]) ?? []),
          ]}
          onChange={setApplication}
        />
        <Choice
          label="Profile to try"
          value={profile}
          options={[
            ["", `${house?.profile ?? "the house's profile"}`],
            ...profiles.filter((p) => p !== house?.profile).map((p): [string, string] => [p, p]),
          ]}
          onChange={setProfile}
        />
        <Button
          size="xs"
          disabled={!found || found.edits.length === 0 || tried.isError}
          onClick={() => found && edit({ edits: found.edits, label: "take what was tried" })}
        >
          Make it so
        </Button>
      </Flex>
      <Box aria-live="polite" data-testid="what-if" mt={1}>
        {tried.isError ? (
          <ProblemNote error={tried.error} />
        ) : (
          found && (
            <>
              {asked && (
                <Flex gap={2} align="center">
                  <VerdictMark verdict={found.review.verdict} size={13} />
                  <b>{found.verdict_text}</b>
                  <span className="figures">{marginText(found.review.margin_db)}</span>
                  {moved !== null && (
                    <span className="figures">
                      ({moved >= 0 ? "+" : "−"}
                      {Math.abs(moved).toFixed(2)} dB)
                    </span>
                  )}
                  <Text truncate>{found.review.headline}</Text>
                </Flex>
              )}
              <Text color="fg.muted">
                {found.passes_to_m === null
                  ? "This chain passes at no length as it stands."
                  : `This chain passes up to ${lengthText(found.passes_to_m, unit)}.`}
                {profile ? " The profile is a house rule: it is tried here and changed under House rules." : ""}
              </Text>
            </>
          )
        )}
      </Box>
    </Box>
  );
}
