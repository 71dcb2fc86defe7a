import { Flex, Heading, Text } from "@chakra-ui/react";

import { lastUse } from "./lastUse";

interface Props {
  title: string;
  what: string;
  /** The name that its last use is kept under, and the project that it was in. */
  use: string;
  projectId: number;
  /** A file to begin with: its name and what stands in it. */
  sample?: readonly [name: string, text: string];
}

/** The head of a card: what it is, a sample to begin with, and when it was last used here. */
export function CardHead({ title, what, use, projectId, sample }: Props) {
  const last = lastUse(projectId, use);
  return (
    <>
      <Heading as="h2" size="sm" fontWeight={600}>
        {title}
      </Heading>
      <Text color="fg.muted" fontSize="13px">
        {what}
      </Text>
      <Flex gap={3} fontSize="12.5px" wrap="wrap">
        {sample && (
          <a href={`data:text/plain;charset=utf-8,${encodeURIComponent(sample[1])}`} download={sample[0]}>
            a sample: {sample[0]}
          </a>
        )}
        <Text color="fg.muted">{last ? `last used ${last}` : "not used in this browser yet"}</Text>
      </Flex>
    </>
  );
}
