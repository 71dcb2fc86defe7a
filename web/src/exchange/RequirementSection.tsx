import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { useLocation } from "react-router";

import { type AnsweredTable, type RequirementsRequest, call } from "../shared/api";
import { Columns } from "./Columns";
import { TableText } from "./TableText";
import { Choice } from "../shared/Choice";
import { AnsweredLines } from "./AnsweredLines";
import { ProblemNote } from "../shared/ProblemNote";
import { useTakeRequirements } from "./queries";
import { useSettings } from "../shared/settings";

const PORTION = 10;
const EXAMPLE =
  "from,to,length,tolerance,speed,later,glass\nHarbor office,Cold store,600 ft,10 %,10G,25G,\nHarbor office,Gatehouse,90 m,,1G,,OM3 or OM4";
type Rank = NonNullable<RequirementsRequest["rank_by"]>;

/** Many requirements from a table: answered in portions, stopped and gone on with, and the accepted ones made links. */
export function RequirementSection({ projectId }: { projectId: number }) {
  const { unit } = useSettings();
  const brought = useLocation().state as { text?: string } | null;
  const [text, setText] = useState(brought?.text ?? "");
  const [rank, setRank] = useState<Rank>("school");
  const [found, setFound] = useState<AnsweredTable | null>(null);
  const [mapping, setMapping] = useState<Record<string, string> | null>(null);
  const [next, setNext] = useState(0);
  const [running, setRunning] = useState(false);
  const [error, setError] = useState<unknown>(null);
  const stop = useRef(false);
  const take = useTakeRequirements(projectId);
  const start = (again: boolean) => void run(again ? 0 : next, again ? null : found);
  const clear = (change: () => void) => {
    change();
    setFound(null);
    setNext(0);
    take.reset();
  };

  async function run(from: number, before: AnsweredTable | null) {
    stop.current = false;
    setRunning(true);
    setError(null);
    let all = before;
    try {
      for (let first = from; !stop.current; first += PORTION) {
        const body: RequirementsRequest = { text, first, count: PORTION, unit, rank_by: rank, mapping };
        const part = await call<AnsweredTable>(`/projects/${projectId}/requirements`, "POST", body);
        all = {
          ...part,
          answered: [...(all?.answered ?? []), ...part.answered],
          problems: [...(all?.problems ?? []), ...part.problems],
        };
        setFound(all);
        setNext(first + PORTION);
        if (first + PORTION >= part.lines) break;
      }
    } catch (problem) {
      setError(problem);
    }
    setRunning(false);
  }

  const done = found ? Math.min(next, found.lines) : 0;
  const good = found?.answered.filter((one) => one.best).map((one) => one.line) ?? [];
  return (
    <Box as="section" aria-label="Requirements">
      <Heading as="h1" size="md" fontWeight={600}>
        Many requirements at once
      </Heading>
      <Text color="fg.muted" fontSize="13px">
        From, to, length and speed in each line; also tolerance, later, glass (cable that is there), new glass
        (cable to buy), strands, near, far, near ports, far ports, way (duct; buried), twisted pair. The best
        answer, the runner-up and the reason come out. A bad line is named, the others work.
      </Text>
      <TableText
        fileLabel="Requirements file"
        textLabel="Table of requirements"
        example={EXAMPLE}
        text={text}
        rows={4}
        onText={(typed) => clear(() => setText(typed))}
        onFile={(given) => {
          clear(() => setText(given));
          setMapping(null);
        }}
      />
      <Flex gap={2} mt={1} align="center" wrap="wrap" fontSize="13px">
        first by{" "}
        <Choice
          label="First by"
          value={rank}
          options={(["school", "cost", "margin", "later speed"] as const).map((one) => [one, one])}
          onChange={(one) => clear(() => setRank(one as Rank))}
        />
        <Button size="xs" disabled={text.trim() === "" || running} onClick={() => start(true)}>
          Answer them
        </Button>
        {running && (
          <Button size="xs" variant="outline" onClick={() => (stop.current = true)}>
            Stop
          </Button>
        )}
        {!running && found && done < found.lines && (
          <Button size="xs" variant="outline" onClick={() => start(false)}>
            Go on
          </Button>
        )}
        {found && (
          <span role="status" className="figures">
            {done} of {found.lines} lines, {good.length} answered, {found.problems.length} bad
          </span>
        )}
      </Flex>
      <ProblemNote error={error ?? take.error} />
      {found && (
        <Columns
          columns={found.columns}
          fields={found.fields}
          unknown={found.unknown}
          mapping={mapping ?? found.mapping}
          onMap={(next) => clear(() => setMapping(next))}
        />
      )}
      {found?.problems.map((problem) => (
        <Text key={problem.line + problem.message} fontSize="13px">
          line {problem.line}
          {problem.column ? `, ${problem.column}` : ""}: {problem.message}
        </Text>
      ))}
      {found && found.answered.length > 0 && (
        <>
          <AnsweredLines answered={found.answered} />
          <Button
            size="xs"
            mt={1}
            disabled={running || good.length === 0 || take.isPending || take.isSuccess}
            onClick={() => take.mutate({ text, lines: good, unit, rank_by: rank, mapping })}
          >
            Make links of {good.length} answers
          </Button>
        </>
      )}
      {take.data && (
        <Text role="status">
          {take.data.added} links were added; one undo takes them back.
          {take.data.undecided > 0
            ? ` ${take.data.undecided} of them could take more than one way of the plan: each asks which on its page.`
            : ""}
        </Text>
      )}
    </Box>
  );
}
