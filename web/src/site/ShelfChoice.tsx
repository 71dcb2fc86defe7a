import { Button, Flex } from "@chakra-ui/react";
import type { ReactNode } from "react";

import type { Plant } from "../shared/api";
import type { Shelf } from "./rows";

interface Props {
  shelves: readonly Shelf[];
  plant: Plant | undefined;
  chosen: string;
  onChoose: (shelf: Shelf) => void;
  children?: ReactNode;
}

/** The tables of a plan, each with the number of its rows; one is shown. */
export const ShelfChoice = ({ shelves, plant, chosen, onChoose, children }: Props) => (
  <Flex role="group" aria-label="Tables" gap={1} mb={1} wrap="wrap">
    {shelves.map((name) => (
      <Button
        key={name}
        size="xs"
        variant={name === chosen ? "solid" : "outline"}
        aria-pressed={name === chosen}
        onClick={() => onChoose(name)}
      >
        {name} <span className="figures">{(plant?.[name] ?? []).length}</span>
      </Button>
    ))}
    {children}
  </Flex>
);
