import { Box, Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

const NEEDS = {
  cable: ["No cable yet", "a cable lies in the ways between two places"],
  place: ["No place yet", "ways and cables lead from place to place"],
} as const;

/** What a page of the plan says before there is a plan: what is missing, what it looks like, and where it is added. */
export function NothingYet({ needs, shows }: { needs: keyof typeof NEEDS; shows: string }) {
  const [missing, why] = NEEDS[needs];
  return (
    <Box maxW="70ch" mt={3} data-testid="nothing-yet">
      <Text fontWeight={600}>
        {missing}: {why}.
      </Text>
      <Text>
        Here then stands {shows}. For example: Harbor office and Lock house, 620 m of duct between them, and in it a
        cable of 12 strands of OS2.
      </Text>
      <svg viewBox="0 0 420 64" width="100%" style={{ maxWidth: 420 }} aria-hidden>
        <path d="M20 24H400" stroke="#e3bd1b" strokeWidth="5" />
        <path d="M20 19H400M20 29H400" stroke="var(--chakra-colors-fg)" strokeWidth="0.8" />
        {[20, 400].map((x) => (
          <rect
            key={x}
            x={x - 6}
            y="18"
            width="12"
            height="12"
            fill="var(--chakra-colors-bg-panel)"
            stroke="var(--chakra-colors-fg)"
            strokeWidth="1.6"
          />
        ))}
        <g fontSize="12" fill="var(--chakra-colors-fg-muted)">
          <text x="14" y="50">
            Harbor office
          </text>
          <text x="210" y="50" textAnchor="middle">
            620 m, 12 strands
          </text>
          <text x="406" y="50" textAnchor="end">
            Lock house
          </text>
        </g>
      </svg>
      <Text>
        <RouterLink to="/places" style={{ textDecoration: "underline" }}>
          Add places
        </RouterLink>
        , then ways and cables under{" "}
        <RouterLink to="/site" style={{ textDecoration: "underline" }}>
          Plan and tables
        </RouterLink>
        ; or{" "}
        <RouterLink to="/exchange" style={{ textDecoration: "underline" }}>
          bring them in as a table
        </RouterLink>
        .
      </Text>
    </Box>
  );
}
