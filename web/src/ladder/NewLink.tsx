import { Box, Button, Flex, Input } from "@chakra-ui/react";
import { type FormEvent, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";

import type { NewLink as Wish } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { rateText, withUnit } from "../shared/format";
import { useAnswer, useCreateLike, useCreateLink } from "../shared/queries";
import { useSettings } from "../shared/settings";
import { Answers, type Pick } from "./Answers";
import { MoreQuestions, type More, NOTHING_MORE } from "./MoreQuestions";
import { useSettled } from "../shared/useSettled";

const RATES = [100, 1000, 10000, 25000, 40000, 50000, 100000, 200000, 400000];

/** A question and its answers: from where to where, how far, how fast; and a complete chain stands there. */
export function NewLink({ projectId }: { projectId: number | undefined }) {
  const [params, setParams] = useSearchParams();
  const like = params.get("like");
  const open = params.has("new") || like !== null;
  const close = () => setParams((before) => new URLSearchParams([...before].filter(([key]) => !["new", "like", "glass"].includes(key))), { replace: true });
  if (!open)
    return (
      <Flex px={2} py="6px" borderBottomWidth="1px">
        <Button size="xs" variant="outline" width="100%" onClick={() => setParams((before) => new URLSearchParams([...before, ["new", "1"]]), { replace: true })}>
          New link
        </Button>
      </Flex>
    );
  return <Question key={like ?? "new"} projectId={projectId} like={like} onClose={close} />;
}

function Question({ projectId, like, onClose }: { projectId: number | undefined; like: string | null; onClose: () => void }) {
  const { unit } = useSettings();
  const navigate = useNavigate();
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const [length, setLength] = useState("");
  const [rate, setRate] = useState("10000");
  const [params] = useSearchParams();
  const [more, setMore] = useState<More>({ ...NOTHING_MORE, like: like ?? "", fiber: params.get("glass") ?? "" });
  const [pick, setPick] = useState<Pick | null>(null);
  const create = useCreateLink(projectId);
  const copy = useCreateLike(projectId);
  const length_m = (length.trim() ? withUnit(length.trim(), unit) : null) as unknown as number | null;
  const wish: Wish = {
    from_place: from || "here",
    to_place: to || "there",
    length_m,
    rate_mbps: Number(rate),
    near_cage: more.near,
    far_cage: more.far,
    strands: more.strands === "1" ? 1 : 2,
    fiber: more.fiber ? more.fiber.split(",") : [],
    application: "",
    grade: "",
    tolerance_percent: Number(more.tolerance),
    later_mbps: more.later ? Number(more.later) : null,
    rank_by: more.rank as Wish["rank_by"],
    between_buildings: more.way === "between",
  };
  const question = { ...wish, from_place: "here", to_place: "there" };
  const asked = useSettled(question);
  const asks = more.like === "" && more.application === "";
  const answer = useAnswer(projectId, asked, asks);
  const stale = answer.isPlaceholderData || JSON.stringify(asked) !== JSON.stringify(question);

  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const options = { onSuccess: (made: { id: number }) => navigate(`/links/${made.id}`) };
    if (more.like) copy.mutate({ like: Number(more.like), wish: { from_place: from, to_place: to, length_m } }, options);
    else if (more.application) create.mutate({ ...wish, rate_mbps: null, application: more.application }, options);
    else create.mutate({ ...wish, application: pick?.application ?? "", grade: more.fiber ? "" : pick?.grade ?? "" }, options);
  }

  return (
    <Box asChild p={2} borderBottomWidth="1px" bg="bg.subtle">
      <form onSubmit={submit} aria-label="New link">
        <Flex direction="column" gap={1}>
          <Input size="xs" placeholder="from: Harbor office" aria-label="From" required autoFocus value={from} onChange={(event) => setFrom(event.target.value)} />
          <Input size="xs" placeholder="to: Cold store" aria-label="To" required value={to} onChange={(event) => setTo(event.target.value)} />
          <Flex gap={1}>
            <Input size="xs" placeholder={unit === "ft" ? "600 ft" : "185 m"} aria-label="How far" title="Empty if not known" value={length} onChange={(event) => setLength(event.target.value)} />
            {more.like === "" && <Choice label="How fast" width="124px" value={rate} options={RATES.map((mbps) => [String(mbps), rateText(mbps)])} onChange={(next) => { setRate(next); setPick(null); }} />}
          </Flex>
          <MoreQuestions projectId={projectId} more={more} onChange={(next) => { setMore(next); setPick(null); }} />
          {asks && <Answers projectId={projectId} answer={answer.data} error={answer.error} pick={pick} onPick={setPick} />}
          <ProblemNote error={create.error ?? copy.error} />
          <Flex gap={2}>
            <Button size="xs" type="submit" loading={create.isPending || copy.isPending} disabled={asks && (stale || answer.isError || answer.data?.options.length === 0)}>
              Make the chain
            </Button>
            <Button size="xs" variant="ghost" onClick={onClose}>
              Cancel
            </Button>
          </Flex>
        </Flex>
      </form>
    </Box>
  );
}
