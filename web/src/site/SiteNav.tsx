import { Button, Flex } from "@chakra-ui/react";
import { NavLink } from "react-router";

const PAGES = [
  ["/site", "Plan and tables"],
  ["/site/routes", "Routes"],
  ["/site/layouts", "Layouts"],
  ["/site/capacity", "Capacity"],
  ["/site/power", "Power"],
  ["/site/closures", "Closures"],
  ["/site/pull", "Pull sheet"],
  ["/site/scope", "Scope sheet"],
] as const;

/** The pages of the site, in the order in which a layout is made. */
export function SiteNav() {
  return (
    <Flex as="nav" aria-label="Site pages" wrap="wrap" gap={0} mb={2} ml={-2} className="no-print">
      {PAGES.map(([path, words]) => (
        <Button key={path} size="xs" variant="ghost" px={2} asChild>
          <NavLink to={path} end style={({ isActive }) => ({ textDecoration: isActive ? "underline" : "none" })}>{words}</NavLink>
        </Button>
      ))}
    </Flex>
  );
}
