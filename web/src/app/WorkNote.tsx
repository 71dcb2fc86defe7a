import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { type Job, ProblemError, call } from "../shared/api";
import { useWork } from "../shared/work";

/** What takes long and is under way: how far it is, and a way to stop it. */
export function WorkNote() {
  const names = useWork();
  if (names.length === 0) return null;
  return (
    <Box position="fixed" right={3} bottom={3} zIndex={15} className="no-print">
      {names.map((name) => (
        <JobLine key={name} name={name} />
      ))}
    </Box>
  );
}

function JobLine({ name }: { name: string }) {
  const [stopping, setStopping] = useState(false);
  const [long, setLong] = useState(false); // what is over in a moment is not asked about
  useEffect(() => {
    const wait = setTimeout(() => setLong(true), 700);
    return () => clearTimeout(wait);
  }, []);
  const job = useQuery({
    queryKey: ["work", name],
    queryFn: () =>
      call<Job>(`/work/${name}`).catch((error: unknown) => {
        if (error instanceof ProblemError && error.problem.status === 404) return null; // not begun, or short
        throw error;
      }),
    enabled: long,
    refetchInterval: 500,
    staleTime: 0,
    gcTime: 0,
    retry: false,
  });
  if (!job.data) return null;
  const { words, done, of } = job.data;
  return (
    <Flex
      role="status"
      aria-label="Work under way"
      gap={3}
      align="center"
      bg="bg"
      borderWidth="1px"
      borderColor="fg"
      px={3}
      py={2}
      mt={1}
      fontSize="13px"
    >
      <Text className="figures">
        {words}
        {of > 0 ? `: ${done.toLocaleString("en-US")} of ${of.toLocaleString("en-US")}` : ""}
      </Text>
      {of > 0 && <progress aria-label={words} value={done} max={of} style={{ accentColor: "currentColor" }} />}
      <Button
        size="xs"
        variant="outline"
        disabled={stopping}
        onClick={() => {
          setStopping(true);
          void call(`/work/${name}`, "DELETE").catch(() => setStopping(false));
        }}
      >
        Stop
      </Button>
    </Flex>
  );
}
