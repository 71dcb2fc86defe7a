import { Button, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link as RouterLink } from "react-router";

import type { EndOut, Project } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { useBoxes, useSay } from "./queries";

interface Props {
  id: number;
  end: EndOut;
  project: Project | undefined;
  onDone: () => void;
}

/** Which port of which box an end is, by the names that the box gives them. */
export function PortOfBox({ id, end, project, onDone }: Props) {
  const boxes = useBoxes(project).data?.boxes ?? [];
  const [box, setBox] = useState(end.box ?? "");
  const [port, setPort] = useState(end.port ?? "");
  const [group, setGroup] = useState("");
  const put = useSay<object>(() => `/links/${id}/turnup/box`, "PUT");
  return (
    <Flex
      as="form"
      gap={2}
      wrap="wrap"
      align="center"
      mt={2}
      fontSize="13px"
      aria-label={`Port at ${end.place}`}
      onSubmit={(event) => {
        event.preventDefault();
        put.mutate({ end: end.end, box, port, group }, { onSuccess: onDone });
      }}
    >
      <Choice
        label="Box"
        value={box}
        onChange={setBox}
        options={[["", "no box"], ...boxes.map((one) => [one.row.id, one.row.name] as const)]}
      />
      <label>
        port{" "}
        <Input
          size="sm"
          width="90px"
          borderColor="border.emphasized"
          value={port}
          onChange={(event) => setPort(event.target.value)}
          maxLength={60}
          placeholder="1/49"
        />
      </label>
      <label>
        aggregation{" "}
        <Input
          size="sm"
          width="80px"
          borderColor="border.emphasized"
          value={group}
          onChange={(event) => setGroup(event.target.value)}
          maxLength={60}
          placeholder="none"
        />
      </label>
      <Button size="sm" type="submit" loading={put.isPending}>
        That is it
      </Button>
      <Text color="fg.muted">
        Boxes are added on the page <RouterLink to="/turnup/boxes">Boxes</RouterLink>.
      </Text>
      <ProblemNote error={put.error} />
    </Flex>
  );
}
