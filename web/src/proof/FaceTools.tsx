import { Button, Flex, Input } from "@chakra-ui/react";

import type { FaceDefect } from "../shared/api";
import { Choice } from "../shared/Choice";
import { Toggle } from "../shared/Toggle";
import { PictureField } from "./PictureField";

interface Props {
  kind: FaceDefect["kind"];
  onKind: (kind: FaceDefect["kind"]) => void;
  size: string;
  onSize: (size: string) => void;
  edition: string;
  editions: readonly string[];
  onEdition: (edition: string) => void;
  cord: boolean;
  onCord: () => void;
  onPicture: (hash: string) => void;
  looking: boolean;
  onLook?: () => void;
}

/** What a tap on the face means, by which edition it is judged, and where its picture is from. */
export function FaceTools(props: Props) {
  return (
    <Flex gap={2} mt={2} wrap="wrap" align="center">
      <Choice
        label="What a tap marks"
        value={props.kind}
        options={[
          ["defect", "a tap marks a defect"],
          ["scratch", "a tap marks a scratch"],
        ]}
        onChange={(value) => props.onKind(value as FaceDefect["kind"])}
      />
      <label>
        of{" "}
        <Input
          size="xs"
          width="52px"
          className="figures"
          borderColor="border.emphasized"
          value={props.size}
          onChange={(event) => props.onSize(event.target.value)}
        />{" "}
        µm
      </label>
      <Choice
        label="Edition of the criteria"
        value={props.edition}
        options={props.editions.map((one) => [one, one] as const)}
        onChange={props.onEdition}
      />
      <Toggle words="the test cord's face" on={props.cord} onChange={props.onCord} />
      <PictureField onPicture={props.onPicture} />
      {props.onLook && (
        <Button size="sm" variant="outline" loading={props.looking} onClick={props.onLook}>
          Look with the scope
        </Button>
      )}
    </Flex>
  );
}
