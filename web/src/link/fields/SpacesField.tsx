import { Flex } from "@chakra-ui/react";

import { Toggle } from "../../shared/Toggle";
import { SPACES } from "../../shared/generated/lists";
import { type Space, toggled } from "../../shared/spaces";
import { Row } from "./Row";

/** What a piece passes through; empty while nothing is known. */
export const SpacesField = ({
  value,
  onChange,
}: {
  value: readonly Space[];
  onChange: (spaces: Space[]) => void;
}) => (
  <Row label="passes">
    <Flex gap={1} wrap="wrap" role="group" aria-label="What it passes through">
      {SPACES.map((space) => (
        <Toggle
          key={space}
          words={space}
          on={value.includes(space)}
          onChange={() => onChange(toggled(SPACES, value, space))}
        />
      ))}
    </Flex>
  </Row>
);
