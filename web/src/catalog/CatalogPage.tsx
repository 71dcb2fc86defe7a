import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { useSearchParams } from "react-router";

import { Hint } from "../app/Hint";
import type { FigureLine, Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { grouped } from "../shared/grouped";
import { useCatalog } from "../shared/queries";
import { useChecks, useFigures } from "./queries";
import { FigureTable } from "./FigureTable";
import { ModuleSection } from "./ModuleSection";
import { SelfCheck } from "./SelfCheck";

const SHELVES: Record<string, string> = {
  application: "applications",
  fiber: "fibers",
  allowance: "joints",
  attenuator: "attenuators",
};

/** The figures of the catalog with their sources; a project puts its own in their place, and restores them. */
export function CatalogPage({ project }: { project: Project | undefined }) {
  const [params, setParams] = useSearchParams();
  const figures = useFigures(project);
  const checks = useChecks();
  const absent = useCatalog().data?.absent ?? [];
  const text = params.get("find") ?? "";
  const lines = figures.data ?? [];
  const records = [...grouped(lines, (line: FigureLine) => `${line.shelf}/${line.name}`)];
  const shown = records.filter(([key]) => key.toLowerCase().includes(text.toLowerCase()));
  const chosen = params.get("of") ?? shown[0]?.[0] ?? "";
  const put = (key: string, value: string) =>
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        next.set(key, value);
        return next;
      },
      { replace: true },
    );

  return (
    <Flex flex="1" minH={0} minW={0} direction={{ base: "column", md: "row" }}>
      <Box
        as="nav"
        aria-label="Catalog"
        width={{ base: "auto", md: "252px" }}
        maxH={{ base: "30vh", md: "none" }}
        flexShrink={0}
        borderRightWidth={{ md: "1px" }}
        overflowY="auto"
      >
        <Box p={2} position="sticky" top={0} bg="bg" borderBottomWidth="1px" zIndex={1}>
          <Input
            size="xs"
            aria-label="Find in the catalog"
            placeholder="find: 10GBASE, OM4, splice"
            borderColor="border.emphasized"
            value={text}
            onChange={(event) => put("find", event.target.value)}
          />
        </Box>
        {Object.entries(SHELVES).map(([shelf, words]) => {
          const mine = shown.filter(([key]) => key.startsWith(`${shelf}/`));
          return mine.length === 0 ? null : (
            <Box key={shelf} as="section" aria-label={words}>
              <Text px={2} pt={2} fontWeight={600} fontSize="12.5px">
                {words}
              </Text>
              {mine.map(([key, own]) => (
                <Box
                  asChild
                  key={key}
                  display="block"
                  width="100%"
                  textAlign="start"
                  px={2}
                  py="2px"
                  fontSize="13px"
                  className="figures"
                  bg={key === chosen ? "bg.muted" : undefined}
                >
                  <button
                    type="button"
                    aria-current={key === chosen ? "true" : undefined}
                    onClick={() => put("of", key)}
                  >
                    {own[0]?.name}
                    {own.some((line) => line.own) ? " · own figures" : ""}
                  </button>
                </Box>
              ))}
            </Box>
          );
        })}
      </Box>
      <Box as="main" flex="1" minW={0} overflowY="auto" px={4} py={3}>
        <Hint name="catalog">
          Every figure has its source. A datasheet that guarantees more can stand in its place in this project:
          change the value, name the source; Restore takes it back.
        </Hint>
        <ProblemNote error={figures.error} />
        {figures.isPending && <Text color="fg.muted">Reading the figures …</Text>}
        {project && figures.data && <ModuleSection project={project} />}
        {project && figures.data && (
          <FigureTable
            key={chosen}
            project={project}
            lines={records.find(([key]) => key === chosen)?.[1] ?? []}
            all={lines}
          />
        )}
        {figures.data && checks.data && <SelfCheck lines={checks.data ?? []} absent={absent} of={chosen} />}
      </Box>
    </Flex>
  );
}
