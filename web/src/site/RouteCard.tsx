import { Box, Button, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Project, Route } from "../shared/api";
import { Care } from "../shared/Care";
import { ProblemNote } from "../shared/ProblemNote";
import { lengthText } from "../shared/format";
import { useBuildRoute } from "./queries";
import { useSettings } from "../shared/settings";
import { RouteStrip } from "./RouteStrip";

const VERBS: Record<string, string> = {
  strands: "use strands of",
  pull: "pull through",
  "new duct": "new duct beside",
  "new way": "dig a",
};

interface Props {
  route: Route;
  project: Project | undefined;
  revision: number;
  apart: string;
  grade: string;
  fresh: boolean;
  /** The longest of the routes in m: all are drawn on its scale. */
  most: number;
  onLook: (ways: readonly string[]) => void;
}

/** One route with its steps, what it shares, and a button that plans its cable. */
export function RouteCard({ route, project, revision, apart, grade, fresh, most, onLook }: Props) {
  const { unit } = useSettings();
  const build = useBuildRoute(project?.id);
  const [name, setName] = useState(`${route.start} to ${route.end}`.slice(0, 36));
  const [strands, setStrands] = useState("12");
  const work = route.steps.some((step) => step.kind !== "strands");
  const wish = {
    revision,
    start: route.start,
    end: route.end,
    aim: route.aim,
    apart_from: apart ? [Number(apart)] : [],
    new_ways: fresh,
    grade,
    name,
    strands: Number(strands),
  };
  return (
    <Box
      as="section"
      aria-label={`Route: ${route.aim}`}
      borderWidth="1px"
      px={3}
      py={2}
      width="400px"
      maxW="100%"
      fontSize="13px"
      onMouseEnter={() => onLook(route.steps.flatMap((step) => step.ways))}
      onFocus={() => onLook(route.steps.flatMap((step) => step.ways))}
    >
      <Heading as="h2" size="sm" fontWeight={600}>
        {route.aim[0]?.toUpperCase()}
        {route.aim.slice(1)}
      </Heading>
      <Text className="figures">
        {lengthText(route.length_m, unit)};{" "}
        {route.pulled_m > 0 ? `${lengthText(route.pulled_m, unit)} to pull; ` : ""}
        {route.new_m > 0 ? `${lengthText(route.new_m, unit)} new; ` : ""}price {route.cost.toFixed(0)}
      </Text>
      <RouteStrip route={route} most={most} />
      {route.diverse !== null && (
        <Text fontWeight={600} data-testid="route-diversity">
          {route.diverse
            ? "Nothing is shared: these are two paths."
            : `Not two paths: it shares ${route.shared.join(", ")}. Nothing else leads there${fresh ? "" : " without new ways"}.`}
        </Text>
      )}
      <Box as="ol" pl={5} my={1} listStyleType="decimal">
        {route.steps.map((step, i) => (
          <li key={i}>
            {VERBS[step.kind]} {step.name}, {lengthText(step.length_m, unit)}: {step.why}
          </li>
        ))}
      </Box>
      {work ? (
        <>
          <label>
            name{" "}
            <Input
              size="xs"
              width="190px"
              aria-label={`Name of the cable, ${route.aim}`}
              borderColor="border.emphasized"
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
          </label>{" "}
          <label>
            strands{" "}
            <Input
              size="xs"
              width="52px"
              className="figures"
              aria-label={`Strands, ${route.aim}`}
              borderColor="border.emphasized"
              value={strands}
              onChange={(event) => setStrands(event.target.value)}
            />
          </label>
          <Button
            size="xs"
            mt={2}
            loading={build.isPending}
            disabled={name.trim() === "" || !Number.isInteger(Number(strands))}
            onClick={() => build.mutate(wish)}
          >
            Put it on the plan
          </Button>
        </>
      ) : (
        <Text>Lay a link on it: open the link, press its run, choose the cable.</Text>
      )}
      {build.isSuccess && <Text role="status">It is planned. Undo takes it back.</Text>}
      <Care lines={route.cautions} />
      <ProblemNote error={build.error} />
    </Box>
  );
}
