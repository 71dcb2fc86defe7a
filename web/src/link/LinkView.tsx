import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useSearchParams } from "react-router";

import { type Fix, type LinkDetail, ProblemError } from "../shared/api";
import { Hint } from "../app/Hint";
import { type EditWish, useEditLink } from "./queries";
import { useCatalog } from "../shared/queries";
import { BudgetPanel } from "./BudgetPanel";
import { ConflictNote } from "./ConflictNote";
import { FindingList } from "./FindingList";
import { Inspector } from "./Inspector";
import type { Lens } from "./LensBar";
import { LinkActions } from "./LinkActions";
import { PlacePrompt } from "./PlacePrompt";
import { LinkDrawing } from "./LinkDrawing";
import { VerdictLine } from "./VerdictLine";
import { useFocusMade } from "./useFocusMade";
import { WhatIfPanel } from "./WhatIfPanel";

const LENSES: readonly Lens[] = ["light", "strands", "build", "proof"];

/** One link: its verdict, the chain with the Light lens under it, the piece in hand and the findings. */
export function LinkView({ detail }: { detail: LinkDetail }) {
  const [params, setParams] = useSearchParams();
  const catalog = useCatalog().data;
  const { link, review } = detail;
  const [tried, setTried] = useState<Fix | null>(null);
  const focusMade = useFocusMade(link.elements);
  const edit = useEditLink(detail);
  const { mutateAsync } = edit;
  /** Stores a change; answers with why it was refused, or null. A conflict has its own note. */
  const store = (wish: EditWish) =>
    mutateAsync(wish).then(
      (after) => {
        focusMade(link.elements, after.link.elements);
        return null;
      },
      (error: unknown) => (error instanceof ProblemError && error.problem.current ? null : error),
    );
  const selected = link.elements.find((e) => e.id === params.get("piece")) ?? null;
  const way = params.get("way") === "left" ? "left" : "right";

  const put = (key: string, value: string | null) =>
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        if (value === null) next.delete(key);
        else next.set(key, value);
        return next;
      },
      { replace: true },
    );

  return (
    <Flex flex="1" minW={0} direction={{ base: "column", lg: "row" }} overflow={{ base: "auto", lg: "hidden" }}>
      <Box flex="1" minW={0} overflowY={{ lg: "auto" }} px={4} py={3} as="main">
        <Hint name="link">
          The link is drawn as it is touched, port to port. Click a piece to change it in place; every fix on the
          right shows its effect first; Ctrl Z takes anything back.
        </Hint>
        <VerdictLine detail={detail} edit={store} />
        <LinkActions
          detail={detail}
          edit={store}
          whatIf={params.has("whatif")}
          onWhatIf={() => put("whatif", params.has("whatif") ? null : "1")}
        />
        {params.has("whatif") && <WhatIfPanel detail={detail} edit={store} />}
        <PlacePrompt detail={detail} />
        <ConflictNote error={edit.error} mine={edit.variables} onMine={edit.mutate} onTheirs={edit.reset} />
        <LinkDrawing
          detail={detail}
          catalog={catalog}
          selected={selected}
          onSelect={(id) => put("piece", id === selected?.id ? null : id)}
          onMove={(id) => put("piece", id)}
          way={way}
          onWay={(next) => put("way", next === "left" ? "left" : null)}
          lens={LENSES.find((one) => one === params.get("lens")) ?? "light"}
          onLens={(next) => put("lens", next === "light" ? null : next)}
          tried={tried}
          edit={store}
        />
        <BudgetPanel review={review} way={way} link={link} />
      </Box>
      <Box
        as="aside"
        aria-label="Piece and findings"
        width={{ base: "auto", lg: "308px" }}
        flexShrink={0}
        borderLeftWidth={{ lg: "1px" }}
        borderTopWidth={{ base: "1px", lg: 0 }}
        overflowY={{ lg: "auto" }}
        bg="bg.subtle"
      >
        {selected ? (
          <Inspector
            key={selected.id}
            detail={detail}
            piece={selected}
            catalog={catalog}
            edit={store}
            onSelect={(id) => put("piece", id)}
          />
        ) : (
          <Text className="no-print" px={3} py={3} color="fg.muted" borderBottomWidth="1px">
            Select a piece of the chain to change it in place, turn it, take it out or put one beside it.
          </Text>
        )}
        <FindingList
          detail={detail}
          onSelect={(id) => put("piece", id)}
          take={store}
          busy={edit.isPending}
          onTry={setTried}
        />
      </Box>
    </Flex>
  );
}
