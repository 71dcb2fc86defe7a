import { Box, Button, Flex } from "@chakra-ui/react";
import { NavLink, useLocation, useNavigate } from "react-router";

import { Choice } from "../shared/Choice";
import { useLinks } from "../shared/queries";
import { STAGES, type Stage, stageOf, waiting } from "./views";

/** The job in its order, each stage with the number of links that wait there. */
export function StageBar({ projectId }: { projectId: number | undefined }) {
  const links = useLinks(projectId).data ?? [];
  return (
    <Flex as="nav" aria-label="Stages of the job" gap={0} wrap="wrap">
      {STAGES.map((stage) => (
        <StageLink key={stage.name} stage={stage} count={waiting(stage, links)} />
      ))}
    </Flex>
  );
}

/** One stage: its name leads to its first page, its number says what waits. */
export function StageLink({ stage, count = 0 }: { stage: Stage; count?: number }) {
  const { pathname } = useLocation();
  const here = stageOf(pathname) === stage;
  return (
    <Button size="xs" variant="ghost" px={2} fontWeight={here ? 600 : 400} asChild>
      <NavLink
        to={stage.pages[0]?.[0] ?? "/links"}
        aria-current={here ? "location" : undefined}
        style={{ textDecoration: here ? "underline" : "none" }}
        title={count > 0 ? `${count} links have their next work here` : undefined}
      >
        {stage.name}
        {count > 0 && <span className="figures"> {count}</span>}
      </NavLink>
    </Button>
  );
}

/** On a phone the pages of a stage are one list to choose from. */
const WIDE = { base: "none", md: "inline-flex" };

/** The pages of the stage in hand. */
export function PageRow() {
  const { pathname } = useLocation();
  const navigate = useNavigate();
  const stage = stageOf(pathname);
  const here = [...stage.pages].reverse().find(([path]) => pathname === path || pathname.startsWith(`${path}/`));
  return (
    <Flex
      as="nav"
      aria-label={`Pages of ${stage.name}`}
      wrap="wrap"
      px={2}
      py="2px"
      borderBottomWidth="1px"
      bg="bg.subtle"
      className="no-print"
    >
      <Box display={{ base: "block", md: "none" }} px={1} py="2px">
        <Choice
          label={`Page of ${stage.name}`}
          value={here?.[0] ?? ""}
          options={[...(here ? [] : [["", "choose a page"] as const]), ...stage.pages]}
          onChange={(path) => path && void navigate(path)}
        />
      </Box>
      {stage.pages.map(([path, words]) => (
        <Button key={path} size="xs" variant="ghost" px={2} display={WIDE} asChild>
          <NavLink
            to={path}
            end={path !== "/links"}
            style={({ isActive }) => ({ textDecoration: isActive ? "underline" : "none" })}
          >
            {words}
          </NavLink>
        </Button>
      ))}
      {stage.name === "Links" && (
        <Button size="xs" variant="ghost" px={2} asChild>
          <NavLink to="/links?new=1" style={{ textDecoration: "none" }}>
            New link
          </NavLink>
        </Button>
      )}
    </Flex>
  );
}
