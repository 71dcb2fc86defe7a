import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { Hint } from "../app/Hint";
import type { Plant, Project } from "../shared/api";
import { HiddenTitle } from "../shared/HiddenTitle";
import { ProblemNote } from "../shared/ProblemNote";
import { useCatalog, useLinks, usePlant } from "../shared/queries";
import { useSetPlant } from "./queries";
import { useSettings } from "../shared/settings";
import { useAddress } from "../shared/useAddress";
import { MovedLinks } from "./MovedLinks";
import { PartPanel } from "./PartPanel";
import { PlantTable } from "./PlantTable";
import { PriceTable } from "./PriceTable";
import { ShelfChoice } from "./ShelfChoice";
import { StripPlan } from "./StripPlan";
import type { Shelf } from "./rows";

const SHELVES: Shelf[] = ["places", "ways", "cables", "taps", "frames", "parts", "devices", "orders"];

/** The site: its ways as strips, what one cut takes down, and the tables of places, ways and cables. */
export function SitePage({ project }: { project: Project | undefined }) {
  const plant = usePlant(project);
  const links = useLinks(project?.id);
  const catalog = useCatalog().data;
  const save = useSetPlant(project?.id);
  const { unit } = useSettings();
  const [params, put] = useAddress();
  const [hovered, setHovered] = useState<number | null>(null);
  const table = params.get("table") ?? "ways";
  const shelf = SHELVES.find((name) => name === table) ?? "ways";
  const way = params.get("way");
  if (!plant.data)
    return (
      <Box p={4}>
        {plant.isPending && <Text color="fg.muted">Reading the plant …</Text>}
        <ProblemNote error={plant.error} />
      </Box>
    );
  const { data } = plant;
  const lit = new Set(hovered === null ? [] : (data.paths.find((path) => path.link === hovered)?.ways ?? []));
  const change = (shelves: Partial<Plant>, label: string) =>
    save.mutateAsync({ revision: data.revision, plant: { ...data.plant, ...shelves }, label }).then(
      () => null,
      (error: unknown) => error,
    );
  const store = (rows: unknown[], label: string) => change({ [shelf]: rows }, label);
  return (
    <Flex
      flex="1"
      minH={0}
      minW={0}
      direction={{ base: "column", lg: "row" }}
      overflowY={{ base: "auto", lg: "hidden" }}
    >
      <Box as="main" flex={{ base: "none", lg: "1" }} minW={0} overflowY={{ lg: "auto" }} px={4} py={3}>
        <HiddenTitle words="Plan of the site" />
        <Hint name="site">
          Ways are strips from the place where most meet; press one to see who goes dark when it is cut. The tables
          below are changed in place.
        </Hint>
        {(data.plant.ways ?? []).length > 0 && (
          <Box overflowX="auto" borderBottomWidth="1px" pb={1} mb={2}>
            <StripPlan
              plant={data}
              catalog={catalog}
              chosen={way}
              lit={lit}
              links={new Map((links.data ?? []).map((row) => [row.id, row.name]))}
              onChoose={(id) => put("way", id === way ? null : id)}
            />
            <Text fontSize="12px" color="fg.muted">
              A strip's width grows with the logarithm of its length; the stripes in it are its cables, by their
              share of the bore.
            </Text>
          </Box>
        )}
        <ShelfChoice shelves={SHELVES} plant={data.plant} chosen={table} onChoose={(name) => put("table", name)}>
          <Button
            size="xs"
            variant={table === "prices" ? "solid" : "outline"}
            aria-pressed={table === "prices"}
            onClick={() => put("table", "prices")}
          >
            prices
          </Button>
          <Flex gap={1} ml="auto" className="no-print">
            {(["svg", "pdf"] as const).map((kind) => (
              <Button key={kind} size="xs" variant="outline" asChild>
                <a href={`/api/v1/projects/${project?.id}/plant/plan.${kind}?unit=${unit}`} download>
                  Plan, {kind.toUpperCase()}
                </a>
              </Button>
            ))}
          </Flex>
        </ShelfChoice>
        <ProblemNote error={save.error} />
        <MovedLinks moved={save.data?.moved ?? []} />
        {table === "prices" ? (
          project && <PriceTable projectId={project.id} />
        ) : (
          <PlantTable key={shelf} shelf={shelf} plant={data} catalog={catalog} store={store} />
        )}
      </Box>
      <Box
        as="aside"
        aria-label="Cuts"
        width={{ base: "auto", lg: "308px" }}
        flexShrink={0}
        borderLeftWidth={{ lg: "1px" }}
        overflowY={{ lg: "auto" }}
        bg="bg.subtle"
        px={3}
        py={3}
      >
        <PartPanel project={project} plant={data} way={way} links={links.data ?? []} onLink={setHovered} />
      </Box>
    </Flex>
  );
}
