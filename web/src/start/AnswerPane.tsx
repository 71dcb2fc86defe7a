import { Text } from "@chakra-ui/react";

import type { Help, NewLink as Wish } from "../shared/api";
import { Answers } from "./Answers";
import { ExampleAnswers } from "./ExampleAnswers";
import { useAnswer } from "./queries";

interface Props {
  projectId: number | undefined;
  /** The length that an example is drawn with while none is typed; empty once there is one. */
  example: string;
  asks: boolean;
  wish: Wish;
  answer: ReturnType<typeof useAnswer>;
  pick: string;
  onPick: (key: string) => void;
  onHelp: (change: Help["change"]) => void;
  onBare: () => void;
}

/** What stands beside the question: an example while the length is missing, the answers, or what is copied. */
export function AnswerPane({ projectId, example, asks, wish, answer, pick, onPick, onHelp, onBare }: Props) {
  const shown = useAnswer(projectId, { ...wish, length_m: example as unknown as number }, example !== "");
  if (!asks)
    return <Text>The chain of that link is made again between the two places; its names are left out.</Text>;
  if (example) return <ExampleAnswers answer={shown.data} error={shown.error} length={example} onBare={onBare} />;
  return (
    <Answers
      projectId={projectId}
      answer={answer.data}
      error={answer.error}
      pick={pick}
      onPick={onPick}
      onHelp={onHelp}
      stale={answer.isPlaceholderData}
    />
  );
}
