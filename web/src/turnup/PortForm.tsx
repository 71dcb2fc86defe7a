import { Button, Flex, Input } from "@chakra-ui/react";
import { useState } from "react";

import { useByWhom } from "../proof/who";
import type { EndOut } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { here } from "./WhoHere";
import { EMPTY, type Typed, type TypedLane, asWish } from "./portWish";
import { useSay } from "./queries";

const NOTHING: TypedLane = { tx: "", rx: "", dark: false };

/** What a port shows, typed by hand: for boxes without management, or that are not reached. */
export function PortForm({
  id,
  end,
  lanes,
  onDone,
}: {
  id: number;
  end: EndOut;
  lanes: number;
  onDone: () => void;
}) {
  const [typed, setTyped] = useState(EMPTY);
  const [light, setLight] = useState<TypedLane[]>(Array.from({ length: lanes }, () => NOTHING));
  const [by] = useByWhom();
  const put = useSay<object>(() => `/links/${id}/turnup/ports`);
  const set = (key: keyof Typed, value: string) => setTyped({ ...typed, [key]: value });
  const text = (key: keyof Typed, label: string, width: string) => (
    <label>
      {label}{" "}
      <Input
        size="sm"
        width={width}
        borderColor="border.emphasized"
        value={typed[key]}
        maxLength={120}
        onChange={(event) => set(key, event.target.value)}
      />
    </label>
  );
  const send = () => put.mutate({ end: end.end, ...asWish(typed, light), ...here(by) }, { onSuccess: onDone });
  return (
    <Flex
      as="form"
      direction="column"
      gap={2}
      mt={2}
      fontSize="13px"
      aria-label={`What the port at ${end.place} shows`}
      onSubmit={(event) => {
        event.preventDefault();
        send();
      }}
    >
      {light.map((lane, i) => (
        <LaneFields
          key={i}
          lane={lane}
          name={lanes > 1 ? `lane ${i + 1}` : ""}
          onChange={(next) => setLight(light.map((one, n) => (n === i ? { ...one, ...next } : one)))}
        />
      ))}
      <Flex gap={2} wrap="wrap" align="center">
        <Choice
          label="Link light"
          value={typed.oper}
          onChange={(value) => set("oper", value)}
          options={[
            ["", "link: not looked"],
            ["up", "link up"],
            ["down", "no link"],
          ]}
        />
        <Choice
          label="Port"
          value={typed.admin}
          onChange={(value) => set("admin", value)}
          options={[
            ["", "port: not looked"],
            ["up", "set to up"],
            ["down", "shut"],
          ]}
        />
        <Choice
          label="Module accepted"
          value={typed.accepted}
          onChange={(value) => set("accepted", value)}
          options={[
            ["", "module: not looked"],
            ["yes", "module accepted"],
            ["no", "module refused"],
          ]}
        />
      </Flex>
      <Flex gap={2} wrap="wrap" align="center">
        {text("module", "module", "140px")}
        {text("serial", "serial", "110px")}
        {text("neighbor", "neighbor", "110px")}
        {text("errors", "errors", "70px")}
        {text("seconds", "in seconds", "70px")}
        {end.correction && !end.correction.startsWith("none") && (
          <>
            {text("corrected", "codewords corrected", "80px")}
            {text("uncorrected", "not corrected", "70px")}
          </>
        )}
        <Button size="sm" type="submit" loading={put.isPending}>
          Write it down
        </Button>
      </Flex>
      <ProblemNote error={put.error} />
    </Flex>
  );
}

interface LaneProps {
  lane: TypedLane;
  name: string;
  onChange: (next: Partial<TypedLane>) => void;
}

function LaneFields({ lane, name, onChange }: LaneProps) {
  const power = (key: "tx" | "rx", label: string, off: boolean) => (
    <label>
      {label}{" "}
      <Input
        size="sm"
        width="84px"
        borderColor="border.emphasized"
        inputMode="text"
        disabled={off}
        value={off ? "" : lane[key]}
        onChange={(event) => onChange({ [key]: event.target.value })}
      />
    </label>
  );
  return (
    <Flex gap={2} wrap="wrap" align="center">
      {name && <span>{name}</span>}
      {power("tx", "sent, dBm", false)}
      {power("rx", "received, dBm", lane.dark)}
      <label>
        <input type="checkbox" checked={lane.dark} onChange={(event) => onChange({ dark: event.target.checked })} />{" "}
        no light
      </label>
    </Flex>
  );
}
