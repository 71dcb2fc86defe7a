import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link as RouterLink } from "react-router";

import type { Evidence, Plant, Project } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { usePlant } from "../shared/queries";
import { useSetPlant } from "./queries";
import { OrderLike } from "./OrderLike";
import { newRow } from "./shelves";

/**
 * What is done with a cable that was looked at: it goes into the project as it is, or its like is ordered.
 * While what is shown is `stale`, an answer to less than was seen, nothing can be taken.
 */
export function FoundCable({
  project,
  grades,
  seen,
  stale,
}: {
  project: Project | undefined;
  grades: string[];
  seen: Evidence;
  stale: boolean;
}) {
  const plant = usePlant(project).data;
  const save = useSetPlant(project?.id);
  const [way, setWay] = useState("");
  const [name, setName] = useState("");
  const [done, setDone] = useState("");
  const [ordering, setOrdering] = useState(false);
  if (!plant) return null;
  const ways = plant.plant.ways ?? [];
  const chosen = way || (ways[0]?.id ?? "");
  const store = (change: Partial<Plant>, label: string) =>
    save.mutate(
      { revision: plant.revision, plant: { ...plant.plant, ...change }, label },
      { onSuccess: () => setDone(label) },
    );
  const put = () => {
    const row = {
      ...newRow("cables", plant.plant),
      ways: [chosen],
      fiber: grades.length > 12 ? [] : grades,
      strands: seen.fibers || 2,
      state: "existing",
    };
    const called = name.trim() || `${seen.jacket || "found"} cable`;
    store(
      { cables: [...(plant.plant.cables ?? []), { ...row, name: called }] as Plant["cables"] },
      `found ${called}`,
    );
  };
  return (
    <Box mt={3} as="section" aria-label="What to do with it">
      <Flex gap={2} wrap="wrap" align="center">
        <Input
          size="sm"
          width="190px"
          placeholder="name, for example old orange"
          aria-label="Name of the cable"
          borderColor="border.emphasized"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        {ways.length > 0 && (
          <Choice
            label="Way that it lies in"
            value={chosen}
            options={ways.map((one) => [one.id, one.name])}
            onChange={setWay}
          />
        )}
        <Button size="sm" variant="outline" disabled={stale || ways.length === 0 || save.isPending} onClick={put}>
          Put it into the project
        </Button>
        <Button
          size="sm"
          variant="outline"
          disabled={stale}
          aria-expanded={ordering}
          onClick={() => setOrdering(!ordering)}
        >
          Order its like
        </Button>
      </Flex>
      {ordering && (
        <OrderLike
          grades={grades}
          seen={seen}
          busy={stale || save.isPending}
          onOrder={(line) => {
            const row = newRow("orders", plant.plant);
            const orders = [...(plant.plant.orders ?? []), { ...row, ...line }] as Plant["orders"];
            store({ orders }, `order ${line.name}`.slice(0, 300));
            setOrdering(false);
          }}
        />
      )}
      {ways.length === 0 && <Text fontSize="13px">It needs a way to lie in: add one under Layout.</Text>}
      {done && (
        <Text role="status" fontSize="13px">
          Done: {done}.{" "}
          <RouterLink to={done.startsWith("order") ? "/site?table=orders" : "/site?table=cables"}>
            See it under Layout
          </RouterLink>
          ; undo takes it back.
        </Text>
      )}
      <ProblemNote error={save.error} />
    </Box>
  );
}
