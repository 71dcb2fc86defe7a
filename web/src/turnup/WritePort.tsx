import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useByWhom } from "../proof/who";
import type { BoxOut, Project } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { here } from "./WhoHere";
import { useWritePort } from "./queries";

interface Props {
  project: Project | undefined;
  row: BoxOut["row"];
  rates: readonly string[];
}

/** Set a port of a box: first shown what would be sent, then sent, and logged. */
export function WritePort({ project, row, rates }: Props) {
  const ports = row.ports ?? [];
  const [port, setPort] = useState(ports[0]?.name ?? "");
  const [admin, setAdmin] = useState("up");
  const [application, setApplication] = useState("");
  const [by] = useByWhom();
  const write = useWritePort(project, row.id);
  const shown = write.data;
  const wish = { port, admin, application, ...here(by) };
  const again = (change: () => void) => {
    change();
    write.reset();
  };
  if (!ports.length) return <Text mt={1}>Say first at the end of a link which port of this box it is.</Text>;
  return (
    <Box mt={1} role="group" aria-label={`Set a port of ${row.name}`}>
      <Flex gap={2} wrap="wrap" align="center">
        <Choice
          label="Port"
          value={port}
          options={ports.map((one) => [one.name, `port ${one.name}`] as const)}
          onChange={(value) => again(() => setPort(value))}
        />
        <Choice
          label="Up or shut"
          value={admin}
          options={[
            ["up", "set to up"],
            ["down", "shut it"],
            ["", "leave up or shut"],
          ]}
          onChange={(value) => again(() => setAdmin(value))}
        />
        <Choice
          label="Rate"
          value={application}
          options={[["", "leave the rate"], ...rates.map((one) => [one, `rate of ${one}`] as const)]}
          onChange={(value) => again(() => setApplication(value))}
        />
        <Button size="xs" variant="outline" onClick={() => write.mutate({ ...wish, send: false })}>
          Show what would be sent
        </Button>
        {shown && !shown.sent && (
          <Button size="xs" loading={write.isPending} onClick={() => write.mutate({ ...wish, send: true })}>
            Send it
          </Button>
        )}
      </Flex>
      {shown && (
        <Text mt={1} role="status">
          {shown.words} {!shown.sent && shown.way_back}{" "}
          <span className="figures">
            {shown.objects.map((one) => `${String(one[0])} ${String(one[2])} (${String(one[1])})`).join("; ")}
          </span>
        </Text>
      )}
      <ProblemNote error={write.error} />
    </Box>
  );
}
