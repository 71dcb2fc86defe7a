import { Box, Button, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link as RouterLink } from "react-router";

import type { AskedBy, BillLine, Project } from "../shared/api";
import { useSettings } from "../shared/settings";
import { useStates } from "./queries";
import { quantityText } from "./words";

const FEW = 12;

const target = (one: AskedBy): string =>
  one.link
    ? `/links/${one.link}?piece=${one.element}&lens=build`
    : one.shelf
      ? `/site?table=${one.shelf}`
      : "/order";

/** Who asks for a line: each leads to its piece in its link, or to its row of the plan. */
export function AskedList({ line, project }: { line: BillLine; project: Project | undefined }) {
  const { unit } = useSettings();
  const [all, setAll] = useState(false);
  const become = useStates(project);
  const shown = all ? line.asked : line.asked.slice(0, FEW);
  return (
    <Box as="ul" listStyleType="none" fontSize="13px" aria-label={`Who asks for ${line.words}`}>
      {shown.map((one, i) => (
        <li key={`${one.key} ${i}`}>
          <span className="figures">{quantityText(one.quantity, line, unit)}</span>{" "}
          {one.link || one.shelf ? (
            <RouterLink to={target(one)}>
              {one.link_name ? `${one.link_name}: ` : ""}
              {one.words}
            </RouterLink>
          ) : (
            one.words
          )}
          {one.place ? (
            <Text as="span" color="fg.muted">
              {" "}
              {one.place}
            </Text>
          ) : null}
          {one.key && line.ordered === 0 && (
            <Button
              size="2xs"
              variant="ghost"
              disabled={become.isPending}
              aria-label={`${one.link_name ? `${one.link_name}: ` : ""}${one.words} is there already`}
              onClick={() => become.mutate({ keys: [one.key], state: "existing" })}
            >
              it is there already
            </Button>
          )}
        </li>
      ))}
      {line.asked.length > FEW && !all && (
        <Button size="xs" variant="ghost" onClick={() => setAll(true)}>
          and {line.asked.length - FEW} more
        </Button>
      )}
    </Box>
  );
}
