import { Box, Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { BillOut } from "../shared/api";

const MOST = 8;

/** What is missing before some pieces can be ordered, each one press from where it is said. */
export function MissingNote({ missing }: { missing: BillOut["bill"]["missing"] }) {
  if (missing.length === 0) return null;
  return (
    <Box role="note" aria-label="Missing before the order" borderLeftWidth="3px" borderColor="fg" pl={2} mt={3}>
      <Text fontWeight={600}>
        {missing.length === 1 ? "One piece" : `${missing.length} pieces`} cannot be ordered yet: say what is
        missing.
      </Text>
      {missing.slice(0, MOST).map((one, i) => (
        <Text key={i} fontSize="13px">
          <RouterLink
            to={
              one.asker.link
                ? `/links/${one.asker.link}?piece=${one.asker.element}&lens=build`
                : `/site?table=${one.asker.shelf || "cables"}`
            }
          >
            The {one.what} of the {one.asker.words}
            {one.asker.link_name ? `, ${one.asker.link_name}` : ""}
          </RouterLink>
        </Text>
      ))}
      {missing.length > MOST && <Text fontSize="13px">and {missing.length - MOST} more</Text>}
    </Box>
  );
}
