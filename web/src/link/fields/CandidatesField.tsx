import { Flex, Text, chakra } from "@chakra-ui/react";

import type { Catalog } from "../../shared/api";
import { jacketColor } from "../../shared/colors";
import { Row } from "./Row";

interface Props {
  value: readonly string[];
  catalog?: Catalog;
  onChange: (grades: string[]) => void;
}

/** The grades that this glass may be: one when it is known, several while it is not, none when nothing is. */
export function CandidatesField({ value, catalog, onChange }: Props) {
  const toggle = (name: string) =>
    onChange(value.includes(name) ? value.filter((grade) => grade !== name) : [...value, name]);
  return (
    <Row label="grade">
      <Flex gap={1} wrap="wrap" role="group" aria-label="Grades that this glass may be">
        {catalog?.fibers.map((fiber) => {
          const on = value.includes(fiber.name);
          return (
            <chakra.button
              key={fiber.name}
              type="button"
              aria-pressed={on}
              onClick={() => toggle(fiber.name)}
              title={`${fiber.family}, ${fiber.core_um} µm, ${fiber.jacket_colors.join(" or ")}`}
              className="figures"
              fontSize="11.5px"
              px="5px"
              borderWidth="1px"
              borderRadius="l2"
              borderColor={on ? "fg" : "border"}
              bg={on ? "fg" : "bg.panel"}
              color={on ? "bg" : "fg"}
              borderBottomWidth="4px"
              style={{ borderBottomColor: jacketColor([fiber.name], catalog) }}
            >
              {fiber.name}
            </chakra.button>
          );
        })}
      </Flex>
      <Text fontSize="12px" color="fg.muted" mt="2px">
        {value.length === 0 && "Not known: the link stays unknown. Mark every grade that it may be."}
        {value.length > 1 && "Not decided: all are computed, the worst verdict stands."}
      </Text>
    </Row>
  );
}
