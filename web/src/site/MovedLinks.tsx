import { Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { PlantOut } from "../shared/api";

/** The links that the last change of the plan moved, with what became of their verdicts. */
export const MovedLinks = ({ moved }: { moved: NonNullable<PlantOut["moved"]> }) =>
  moved.length === 0 ? null : (
    <Text role="status" fontSize="13px" py={1}>
      {moved.length === 1 ? "One link moved" : `${moved.length} links moved`} with that:{" "}
      {moved.slice(0, SHOWN).map((link, at) => (
        <span key={link.id}>
          {at > 0 && ", "}
          <RouterLink to={`/links/${link.id}`}>{link.name}</RouterLink>{" "}
          {link.before === link.after ? `stays ${link.after}` : `${link.before} → ${link.after}`}
        </span>
      ))}
      {moved.length > SHOWN && ` and ${moved.length - SHOWN} more`}.
    </Text>
  );

const SHOWN = 6;
