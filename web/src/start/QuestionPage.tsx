import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { type FormEvent, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";

import type { Help, NewLink as Wish } from "../shared/api";
import { MADE } from "../link/useFocusMade";
import { ProblemNote } from "../shared/ProblemNote";
import { lengthText, withUnit } from "../shared/format";
import { useAnswer, useCreateLike, useCreateLink } from "./queries";
import { useLink } from "../shared/queries";
import { useSettings } from "../shared/settings";
import { AnswerPane } from "./AnswerPane";
import { FirstFields } from "./FirstFields";
import { FromPlan, Replaces } from "./FromPlan";
import { MoreQuestions } from "./MoreQuestions";
import { moreAsked } from "./again";
import { useAskedAddress } from "./useAskedAddress";
import { usePlan } from "./usePlan";
import type { More } from "./wish";

/** The length that stands in for the one that is not typed yet, so that one sees what an answer looks like. */
const EXAMPLE = { m: "185 m", ft: "600 ft" } as const;

/** A question and its answers: from where to where, how far, how fast; and a complete chain stands there. */
export function QuestionPage({
  projectId,
  like: template,
  onClose,
}: {
  projectId: number | undefined;
  like: string;
  onClose: () => void;
}) {
  const { unit } = useSettings();
  const navigate = useNavigate();
  const [params, setParams] = useSearchParams();
  const [from, setFrom] = useState(params.get("from") ?? "");
  const [to, setTo] = useState(params.get("to") ?? "");
  const [length, setLength] = useState(params.get("length") ?? "");
  const [rate, setRate] = useState(params.get("speed") || "10000");
  const instead = useLink(Number(params.get("instead")) || undefined).data;
  const [replaces, setReplaces] = useState(true);
  const [like, setLike] = useState(template);
  const [more, setMore] = useState<More>(() => moreAsked(params));
  const [pick, setPick] = useState("");
  const create = useCreateLink(projectId);
  const copy = useCreateLike(projectId);
  const plan = usePlan(from, to);
  const length_m = (length.trim() ? withUnit(length.trim(), unit) : null) as unknown as number | null;
  const wish: Wish = {
    ...more,
    from_place: from || "here",
    to_place: to || "there",
    length_m,
    rate_mbps: Number(rate),
  };
  const asks = like === "";
  const answer = useAnswer(projectId, wish, asks);
  const stale = answer.isPlaceholderData;
  const [bare, setBare] = useState(false);
  const blank = asks && length.trim() === "" && !bare;
  useAskedAddress({ from, to, length, speed: rate, more: JSON.stringify(more) }, setParams);
  /** Takes a way on that was offered: the fields of the question that it changes. */
  const help = ({ length_m: shorter, rate_mbps, ...rest }: Help["change"]) => {
    if (typeof shorter === "number") setLength(lengthText(shorter, unit));
    if (typeof rate_mbps === "number") setRate(String(rate_mbps));
    change(rest as Partial<More>);
  };
  const change = (next: Partial<More>) => {
    setMore((before) => ({ ...before, ...next }));
    setPick("");
  };
  const ask = (next: string) => {
    setRate(next);
    setPick("");
  };
  const blocked =
    asks && (stale || answer.isError || (answer.data?.options.length === 0 && more.application === ""));

  /** Made first, then gone to: the page that asks is left only when the link stands. */
  async function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const made = await make().catch(() => null); // why it was refused stands under the question
    if (made) await navigate(`/links/${made.id}`, MADE);
  }

  function make() {
    if (like) return copy.mutateAsync({ like: Number(like), wish: { from_place: from, to_place: to, length_m } });
    const of = instead && replaces ? { instead_of: instead.id, revision: instead.revision } : {};
    if (more.application && answer.data?.options.length === 0)
      return create.mutateAsync({ ...wish, ...of, rate_mbps: null });
    const picked = answer.data?.options.some((option) => option.key === pick) ? pick : "";
    return create.mutateAsync({ ...wish, ...of, pick: picked });
  }

  return (
    <Flex
      asChild
      flex="1"
      minW={0}
      minH={0}
      direction={{ base: "column", lg: "row" }}
      overflowY={{ base: "auto", lg: "hidden" }}
    >
      <main>
        <Box
          asChild
          width={{ base: "auto", lg: "340px" }}
          flexShrink={0}
          px={4}
          py={3}
          overflowY={{ lg: "auto" }}
          borderRightWidth={{ lg: "1px" }}
          bg="bg.subtle"
        >
          <form onSubmit={submit} aria-label="New link">
            <Heading as="h1" size="md" fontWeight={600}>
              What is wanted?
            </Heading>
            <Text color="fg.muted" fontSize="13px">
              From where to where, how far, how fast. Three fields answer most questions.
            </Text>
            <FirstFields
              first={{ from, to, length, rate }}
              asks={asks}
              plan={plan}
              understood={asks && !stale && !answer.isError ? (answer.data?.length_m ?? null) : null}
              error={asks ? answer.error : null}
              onFirst={(next) => {
                if (next.from !== undefined) setFrom(next.from);
                if (next.to !== undefined) setTo(next.to);
                if (next.length !== undefined) setLength(next.length);
                if (next.rate !== undefined) ask(next.rate);
              }}
              onMore={change}
            />
            {instead && asks && <Replaces name={instead.link.name} replaces={replaces} onChoose={setReplaces} />}
            <FromPlan plan={plan} asks={asks} rate={rate} onRate={ask} />
            <MoreQuestions projectId={projectId} more={more} like={like} onChange={change} onLike={setLike} />
            <ProblemNote error={create.error ?? copy.error} />
            <Flex gap={2} mt={3} position="sticky" bottom="-12px" bg="bg.subtle" py={3}>
              <Button size="sm" type="submit" loading={create.isPending || copy.isPending} disabled={blocked}>
                {instead && asks && replaces ? "Replace the chain" : "Make the chain"}
              </Button>
              <Button size="sm" variant="ghost" onClick={onClose}>
                Cancel
              </Button>
            </Flex>
          </form>
        </Box>
        <Box flex="1" minW={0} px={4} py={3} overflowY={{ lg: "auto" }}>
          <AnswerPane
            projectId={projectId}
            example={blank ? EXAMPLE[unit] : ""}
            asks={asks}
            wish={wish}
            answer={answer}
            pick={pick}
            onPick={setPick}
            onHelp={help}
            onBare={() => setBare(true)}
          />
        </Box>
      </main>
    </Flex>
  );
}
