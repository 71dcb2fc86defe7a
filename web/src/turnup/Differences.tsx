import { Box } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { TurnUpOut } from "../shared/api";

/** What differs from the plan, and the plan itself where it does not say that the link works. */
export function Differences({ id, out }: { id: number; out: TurnUpOut }) {
  const { differences, plan, plan_holds } = out.turnup;
  if (!differences.length && plan_holds) return null;
  return (
    <Box as="ul" p={0} listStyleType="none" mt={1} fontSize="13px" aria-label="What differs from the plan">
      {!plan_holds && (
        <li data-difference="plan">
          <b>The plan</b> does not say that this link works: {plan}. So it is not called lit as planned, whatever it
          reads; <RouterLink to={`/links/${id}`}>open the plan, its fix is there</RouterLink>.
        </li>
      )}
      {differences.map((one) => (
        <li key={one.code + one.end + one.words} data-difference={one.code}>
          <b>{one.severity}</b>, {out.ends.find((end) => end.end === one.end)?.place}: {one.words} {one.do}
        </li>
      ))}
    </Box>
  );
}
