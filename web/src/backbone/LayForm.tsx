import { Button, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useNavigate } from "react-router";

import type { Method, MethodWish, Project } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { usePlant } from "../shared/queries";
import { useLayOver } from "./queries";

interface Props {
  method: Method;
  wish: MethodWish;
  project: Project | undefined;
}

/** From where to where, how long, and what runs: the link is made over a trunk of the set. */
export function LayForm({ method, wish, project }: Props) {
  const places = usePlant(project).data?.plant.places ?? [];
  const lay = useLayOver(project?.id);
  const navigate = useNavigate();
  const asked = [
    wish.parallel_when !== "never" ? wish.parallel : "",
    wish.duplex_when !== "never" ? wish.duplex : "",
  ].filter((name): name is string => Boolean(name));
  const [application, setApplication] = useState(asked[0] ?? "");
  const [front, setFront] = useState("1");
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const [length, setLength] = useState("");
  const pair = application === wish.duplex;
  const submit = () =>
    lay.mutate(
      {
        backbone: method.backbone,
        application,
        from_place: from,
        to_place: to,
        length_m: length === "" ? null : (length as unknown as number),
        front: Number(front),
        beside: wish.parallel_when === "never" ? "" : (wish.parallel ?? ""),
      },
      { onSuccess: (made) => navigate(`/links/${made.id}?lens=strands`) },
    );
  const field = (label: string, value: string, set: (text: string) => void, width = "160px", list?: string) => (
    <Input
      size="xs"
      width={width}
      aria-label={label}
      placeholder={label.toLowerCase()}
      value={value}
      list={list}
      borderColor="border.emphasized"
      onChange={(event) => set(event.target.value)}
    />
  );
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <datalist id="lay-places">
        {places.map((place) => (
          <option key={place.id} value={place.name} />
        ))}
      </datalist>
      <Flex gap={2} wrap="wrap" align="center" mt={2} fontSize="13px">
        <Choice
          label="What runs"
          value={application}
          options={asked.map((name) => [name, name])}
          onChange={setApplication}
        />
        {pair && <>front {field("Front", front, setFront, "52px")}</>}
        {field("From place", from, setFrom, "170px", "lay-places")}
        {field("To place", to, setTo, "170px", "lay-places")}
        {field("Length of the trunk, as 65 m", length, setLength, "200px")}
        <Button size="xs" type="submit" disabled={lay.isPending || !from || !to}>
          Add the link
        </Button>
        {(!from || !to) && <Text color="fg.muted">Both places are needed.</Text>}
      </Flex>
      <ProblemNote error={lay.error} />
    </form>
  );
}
