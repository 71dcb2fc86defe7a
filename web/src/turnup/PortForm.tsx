import { Button, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useByWhom } from "../proof/who";
import type { EndOut } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { here } from "./WhoHere";
import { useSay } from "./queries";

interface Typed {
  admin: string;
  oper: string;
  module: string;
  serial: string;
  neighbor: string;
  errors: string;
  seconds: string;
  corrected: string;
  uncorrected: string;
  accepted: string;
}

const EMPTY: Typed = {
  admin: "",
  oper: "",
  module: "",
  serial: "",
  neighbor: "",
  errors: "",
  seconds: "",
  corrected: "",
  uncorrected: "",
  accepted: "",
};

/** A level as people type it: minus of any kind, a comma for a point; null for an empty field, NaN for no number. */
export function asDbm(text: string): number | null {
  const plain = text
    .trim()
    .replace(/[−–]/g, "-")
    .replace(/\s*dbm$/i, "")
    .replace(",", ".");
  if (plain === "") return null;
  return /^[+-]?\d+(\.\d+)?$/.test(plain) ? Number(plain) : Number.NaN;
}

const asCount = (text: string): number | null => (text.trim() === "" ? null : Number(text.replace(/[\s,]/g, "")));

/** What was typed as it is sent, or in words what cannot be read. */
function asWish(typed: Typed, tx: readonly string[], rx: readonly string[], dark: readonly boolean[]) {
  if ([...tx, ...rx].map(asDbm).some((one) => Number.isNaN(one))) {
    return "A power is a number in dBm, such as −6.2. Microwatts: use what the box shows in dBm.";
  }
  const counts = [typed.errors, typed.seconds, typed.corrected, typed.uncorrected].map(asCount);
  const [errors, seconds, corrected, uncorrected] = counts;
  if (counts.some((one) => Number.isNaN(one))) return "Errors and seconds are whole numbers.";
  const lanes = tx
    .map((one, i) => ({
      lane: i + 1,
      tx_dbm: asDbm(one),
      rx_dbm: dark[i] ? null : asDbm(rx[i] ?? ""),
      rx_dark: dark[i] ?? false,
    }))
    .filter((one) => one.tx_dbm !== null || one.rx_dbm !== null || one.rx_dark);
  const { admin, oper, module, serial, neighbor } = typed;
  const accepted = typed.accepted === "" ? null : typed.accepted === "yes";
  return { admin, oper, module, serial, neighbor, errors, seconds, corrected, uncorrected, accepted, lanes };
}

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
  const [tx, setTx] = useState<string[]>(Array<string>(lanes).fill(""));
  const [rx, setRx] = useState<string[]>(Array<string>(lanes).fill(""));
  const [dark, setDark] = useState<boolean[]>(Array<boolean>(lanes).fill(false));
  const [wrong, setWrong] = useState("");
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
  function send() {
    const wish = asWish(typed, tx, rx, dark);
    if (typeof wish === "string") {
      setWrong(wish);
      return;
    }
    setWrong("");
    put.mutate({ end: end.end, ...wish, ...here(by) }, { onSuccess: onDone });
  }
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
      {tx.map((_, i) => (
        <Flex key={i} gap={2} wrap="wrap" align="center">
          {lanes > 1 && <span>lane {i + 1}</span>}
          <label>
            sent, dBm{" "}
            <Input
              size="sm"
              width="76px"
              borderColor="border.emphasized"
              inputMode="text"
              value={tx[i]}
              onChange={(event) => setTx(tx.map((one, n) => (n === i ? event.target.value : one)))}
            />
          </label>
          <label>
            received, dBm{" "}
            <Input
              size="sm"
              width="76px"
              borderColor="border.emphasized"
              disabled={dark[i]}
              value={dark[i] ? "" : rx[i]}
              onChange={(event) => setRx(rx.map((one, n) => (n === i ? event.target.value : one)))}
            />
          </label>
          <label>
            <input
              type="checkbox"
              checked={dark[i]}
              onChange={(event) => setDark(dark.map((one, n) => (n === i ? event.target.checked : one)))}
            />{" "}
            no light
          </label>
        </Flex>
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
        {text("corrected", "codewords corrected", "80px")}
        {text("uncorrected", "not corrected", "70px")}
        <Button size="sm" type="submit" loading={put.isPending}>
          Write it down
        </Button>
      </Flex>
      {wrong && <Text role="alert">{wrong}</Text>}
      <ProblemNote error={put.error} />
    </Flex>
  );
}
