import { Button, Flex, Input } from "@chakra-ui/react";
import { useState } from "react";

import type { Project, ReelSeen } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { Toggle } from "../shared/Toggle";
import { withUnit } from "../shared/format";
import { useSettings } from "../shared/settings";
import { asTyped } from "../shared/doubt";
import { useSetReel } from "./queries";

/** A reel by hand: a remainder in the van, or one more to buy. */
export function ReelForm({ line, project }: { line: string; project: Project | undefined }) {
  const { unit } = useSettings();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const [length, setLength] = useState("");
  const [there, setThere] = useState(true);
  const set = useSetReel(project);
  if (!open)
    return (
      <Button size="xs" variant="ghost" onClick={() => setOpen(true)}>
        Add a reel or a remainder
      </Button>
    );
  return (
    <Flex
      as="form"
      gap={1}
      align="center"
      wrap="wrap"
      fontSize="13px"
      onSubmit={(event) => {
        event.preventDefault();
        const wish = { line, row: "", report: "", remove: false, name: name.trim() || "remainder", on_hand: there };
        set.mutate(
          { ...wish, length_m: withUnit(length, unit) as unknown as number },
          {
            onSuccess: () => {
              setOpen(false);
              setLength("");
              setName("");
            },
          },
        );
      }}
    >
      <Input
        size="xs"
        width="130px"
        aria-label="Name of the reel"
        placeholder="name, for example van 2"
        borderColor="border.emphasized"
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <Input
        size="xs"
        width="84px"
        className="figures"
        aria-label="Length on the reel"
        placeholder={`length, ${unit}`}
        borderColor="border.emphasized"
        value={length}
        onChange={(event) => setLength(event.target.value)}
      />
      <Toggle words="on hand" on={there} onChange={() => setThere(true)} />
      <Toggle words="to buy" on={!there} onChange={() => setThere(false)} />
      <Button size="xs" type="submit" disabled={length.trim() === ""} loading={set.isPending}>
        Add it
      </Button>
      <Button size="xs" variant="ghost" onClick={() => setOpen(false)}>
        Leave it
      </Button>
      <ProblemNote error={set.error} />
    </Flex>
  );
}

/** What the factory report of a reel says, or that the reel is not bought after all. */
export function ReportForm({
  reel,
  line,
  project,
}: {
  reel: ReelSeen;
  line: string;
  project: Project | undefined;
}) {
  const { unit } = useSettings();
  const [length, setLength] = useState("");
  const [report, setReport] = useState(reel.report);
  const [loss, setLoss] = useState("");
  const [at, setAt] = useState("1310");
  const set = useSetReel(project);
  const wish = {
    line,
    row: reel.row,
    name: reel.name,
    length_m: reel.sold_m,
    on_hand: reel.on_hand,
    report,
    remove: false,
  };
  return (
    <Flex
      as="form"
      gap={1}
      align="center"
      wrap="wrap"
      fontSize="13px"
      className="no-print"
      onSubmit={(event) => {
        event.preventDefault();
        set.mutate(
          {
            ...wish,
            ...(loss.trim() ? { report_nm: Number(at), report_db_per_km: asTyped(loss) } : {}),
            delivered_m: withUnit(length, unit) as unknown as number,
          },
          { onSuccess: () => setLength("") },
        );
      }}
    >
      <label>
        It came with{" "}
        <Input
          size="xs"
          width="84px"
          className="figures"
          aria-label={`Length that came on ${reel.name}`}
          borderColor="border.emphasized"
          value={length}
          onChange={(event) => setLength(event.target.value)}
        />
      </label>
      <Input
        size="xs"
        width="190px"
        aria-label={`Factory report of ${reel.name}`}
        placeholder="number of the factory report"
        borderColor="border.emphasized"
        value={report}
        maxLength={120}
        onChange={(event) => setReport(event.target.value)}
      />
      <label>
        loss{" "}
        <Input
          size="xs"
          width="52px"
          className="figures"
          aria-label={`Loss in dB/km by the report of ${reel.name}`}
          borderColor="border.emphasized"
          value={loss}
          onChange={(event) => setLoss(event.target.value)}
        />{" "}
        dB/km at{" "}
      </label>
      <Choice
        label={`Wavelength of the report of ${reel.name}`}
        value={at}
        options={["850", "1300", "1310", "1550"].map((nm) => [nm, `${nm} nm`] as const)}
        onChange={setAt}
      />
      <Button size="xs" variant="outline" type="submit" disabled={length.trim() === ""}>
        Write it down
      </Button>
      <Button size="xs" variant="ghost" onClick={() => set.mutate({ ...wish, remove: true })}>
        Take the reel out
      </Button>
      <ProblemNote error={set.error} />
    </Flex>
  );
}
