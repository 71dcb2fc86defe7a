import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useSearchParams } from "react-router";

import type { Project, PullSheet } from "../shared/api";
import { Choice } from "../shared/Choice";
import { HiddenTitle } from "../shared/HiddenTitle";
import { ProblemNote } from "../shared/ProblemNote";
import { Toggle } from "../shared/Toggle";
import { usePlant, usePlantQuery } from "../shared/queries";
import { useSettings } from "../shared/settings";
import { NothingYet } from "./NothingYet";
import { PullSheetView } from "./PullSheetView";

/** The pull of one cable or of several together, for the day. It prints on one sheet. */
export function PullPage({ project }: { project: Project | undefined }) {
  const { unit } = useSettings();
  const [params, setParams] = useSearchParams();
  const plant = usePlant(project).data?.plant;
  const cables = plant?.cables ?? [];
  const chosen = params.getAll("cable");
  const cable = chosen.length > 0 ? chosen : cables.slice(0, 1).map((one) => one.id);
  const friction = params.get("friction") ?? "0.25";
  const query = { cable, friction };
  const sheet = usePlantQuery<PullSheet>(project, "pull", query, cable.length > 0);
  const first = cables.find((one) => one.id === cable[0]);
  const bundled = cables.filter((one) => first && one.ways.join() === first.ways.join());
  const put = (next: string[], rub = friction) => setParams({ cable: next, friction: rub }, { replace: true });
  const file = new URLSearchParams([...cable.map((id) => ["cable", id]), ["friction", friction], ["unit", unit]]);
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Flex
        gap={3}
        align="center"
        wrap="wrap"
        className="no-print"
        fontSize="13px"
        display={cable.length > 0 ? "flex" : "none"}
      >
        cable
        <Choice
          label="Cable"
          value={cable[0] ?? ""}
          options={cables.map((one) => [one.id, one.name])}
          onChange={(id) => put([id])}
        />
        {bundled
          .slice(0, 12)
          .filter((one) => one.id !== cable[0])
          .map((one) => (
            <Toggle
              key={one.id}
              words={`with ${one.name}`}
              on={cable.includes(one.id)}
              onChange={() =>
                put(cable.includes(one.id) ? cable.filter((id) => id !== one.id) : [...cable, one.id])
              }
            />
          ))}
        <label>
          friction{" "}
          <Input
            size="xs"
            width="64px"
            aria-label="Friction"
            className="figures"
            borderColor="border.emphasized"
            defaultValue={friction}
            onBlur={(event) => put(cable, event.target.value.trim() || "0.25")}
          />
        </label>
        <Button size="xs" variant="outline" onClick={() => window.print()}>
          Print
        </Button>
        <Button size="xs" variant="outline" asChild>
          <a href={`/api/v1/projects/${project?.id}/plant/pull.pdf?${file}`} download>
            PDF
          </a>
        </Button>
      </Flex>
      <ProblemNote error={sheet.error} />
      {sheet.isPending && cable.length > 0 && <Text color="fg.muted">Reckoning the pull …</Text>}
      {!sheet.data && <HiddenTitle words="Pull sheet" />}
      {cable.length === 0 && plant && (
        <NothingYet needs="cable" shows="its way to scale, with the tension along it from both ends" />
      )}
      {sheet.data && !sheet.error && <PullSheetView sheet={sheet.data} />}
    </Box>
  );
}
