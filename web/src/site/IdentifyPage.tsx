import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useNavigate } from "react-router";

import type { Evidence, Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { sourceText } from "../shared/format";
import { useIdentify } from "./queries";
import { useSettled } from "../shared/useSettled";
import { useCatalog } from "../shared/queries";
import { Candidates } from "./Candidates";
import { ArrayFound } from "./ArrayFound";
import { Carries } from "./Carries";
import { FoundCable } from "./FoundCable";
import { SeenForm } from "./SeenForm";

/** What cable is this: press what can be seen; what remains, how likely, and which look decides next. */
export function IdentifyPage({ project }: { project: Project | undefined }) {
  const navigate = useNavigate();
  const [seen, setSeen] = useState<Evidence>({
    jacket: "",
    connector: "",
    boot: "",
    shape: "",
    polish: "",
    print: "",
    fibers: 0,
    outdoors: null,
    rows: 0,
    pins: "",
    key: "",
  });
  const settled = useSettled(seen);
  const found = useIdentify(settled);
  const stale = found.isPlaceholderData || JSON.stringify(settled) !== JSON.stringify(seen);
  const likely = found.data?.candidates.filter((candidate) => candidate.likely) ?? [];
  const catalog = useCatalog().data;
  return (
    <Flex
      as="main"
      flex="1"
      minH={0}
      overflowY="auto"
      direction={{ base: "column", md: "row" }}
      gap={6}
      px={4}
      py={3}
    >
      <SeenForm seen={seen} onSee={setSeen} />
      <Box flex="1" minW={0} aria-live="polite" data-testid="identified">
        <ProblemNote error={found.error} />
        {found.data && (
          <>
            <Text fontSize="17px" fontWeight={600}>
              {likely.length > 8
                ? "It may still be any of these"
                : likely.map((candidate) => candidate.grade).join(" or ")}
            </Text>
            {found.data.next_look && <Text>{found.data.next_look}</Text>}
            {found.data.contradictions.map((text) => (
              <Text key={text} fontWeight={600}>
                {text}
              </Text>
            ))}
            <Candidates
              found={found.data}
              grades={catalog?.fibers.map((fiber) => fiber.name) ?? []}
              catalog={catalog}
            />
            <Text fontSize="12.5px" color="fg.muted">
              Shares rest on an {sourceText(found.data.sources[0]!)}.
            </Text>
            <Button
              mt={2}
              size="sm"
              variant="outline"
              disabled={stale || likely.length > 8}
              onClick={() =>
                navigate(
                  `/links?new=1&glass=${encodeURIComponent(likely.map((candidate) => candidate.grade).join(","))}`,
                )
              }
            >
              Plan a link over it
            </Button>
            <FoundCable
              project={project}
              grades={likely.map((candidate) => candidate.grade)}
              seen={seen}
              stale={stale}
            />
            {found.data.array && <ArrayFound seen={found.data.array} />}
            <Carries found={found.data} likely={likely} />
          </>
        )}
      </Box>
    </Flex>
  );
}
