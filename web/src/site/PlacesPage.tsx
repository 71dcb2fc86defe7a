import { Box, Heading, Text } from "@chakra-ui/react";

import type { Plant, Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useCatalog, usePlant } from "../shared/queries";
import { useSetPlant } from "./queries";
import { useAddress } from "../shared/useAddress";
import { PlantTable } from "./PlantTable";
import { ShelfChoice } from "./ShelfChoice";

const SHELVES = ["places", "devices"] as const;

/** What the walk through found: the places, and the devices that hang there. */
export function PlacesPage({ project }: { project: Project | undefined }) {
  const plant = usePlant(project);
  const catalog = useCatalog().data;
  const save = useSetPlant(project?.id);
  const [params, put] = useAddress();
  const shelf = SHELVES.find((name) => name === params.get("table")) ?? "places";
  const { data } = plant;
  const store = (rows: unknown[], label: string) =>
    data
      ? save.mutateAsync({ revision: data.revision, plant: { ...data.plant, [shelf]: rows } as Plant, label }).then(
          () => null,
          (error: unknown) => error,
        )
      : Promise.resolve(null);
  return (
    <Box as="main" flex="1" minW={0} overflowY="auto" px={4} py={3}>
      <Heading as="h1" size="md" fontWeight={600}>
        Places and devices
      </Heading>
      <Text color="fg.muted" fontSize="13px" mb={2}>
        Rooms, cabinets, poles and pits with what surrounds them, and what hangs there: a camera or a switch with
        the speed and the power that it takes.
      </Text>
      <ShelfChoice shelves={SHELVES} plant={data?.plant} chosen={shelf} onChoose={(name) => put("table", name)} />
      <ProblemNote error={plant.error ?? save.error} />
      {data && <PlantTable key={shelf} shelf={shelf} plant={data} catalog={catalog} store={store} />}
    </Box>
  );
}
