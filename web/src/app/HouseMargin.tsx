import { Flex, Input, chakra } from "@chakra-ui/react";
import { useState } from "react";

import type { Project } from "../shared/api";
import { useCatalog, useHouseMargin } from "../shared/queries";

/** The house margin of the project, with the reason for its default. */
export function HouseMargin({ project }: { project: Project }) {
  const save = useHouseMargin(project.id);
  const rule = useCatalog().data?.house_margin;
  const [draft, setDraft] = useState<string | null>(null);
  const value = String(project.house_rules.margin_db);
  function commit() {
    const typed = Number((draft ?? value).replace(",", "."));
    if (draft !== null && draft !== value && draft.trim() !== "" && Number.isFinite(typed)) save.mutate(typed);
    setDraft(null);
  }
  return (
    <Flex align="center" gap={1} title={rule ? `Default ${rule.default} dB. ${rule.reason}` : undefined}>
      <chakra.label htmlFor="house-margin" fontSize="12px" color="fg.muted">
        house margin
      </chakra.label>
      <Input
        id="house-margin"
        size="xs"
        width="48px"
        className="figures"
        borderColor="border.emphasized"
        value={draft ?? value}
        onChange={(event) => setDraft(event.target.value)}
        onBlur={commit}
        onKeyDown={(event) => {
          if (event.key === "Enter") commit();
          if (event.key === "Escape") setDraft(null);
        }}
      />
      <chakra.span fontSize="12px" color="fg.muted">
        dB
      </chakra.span>
      {save.error && (
        <chakra.span role="alert" fontSize="12px">
          {save.error.message}
        </chakra.span>
      )}
    </Flex>
  );
}
