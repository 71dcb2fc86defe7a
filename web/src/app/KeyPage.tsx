import { Box, Heading, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { useNavigate, useParams } from "react-router";

import { type KeyFound, call } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useSettings } from "../shared/settings";

/** What a code on a label leads to: the piece in its link, or its row of the plan. */
export function KeyPage() {
  const { key = "" } = useParams();
  const { openProject, projectId } = useSettings();
  const navigate = useNavigate();
  const found = useQuery({ queryKey: ["key", key], queryFn: () => call<KeyFound>(`/keys/${key}`), retry: false });
  const { data } = found;
  useEffect(() => {
    if (!data) return;
    const where = data.link
      ? `/links/${data.link}?${data.element ? `piece=${data.element}&` : ""}lens=build`
      : `/site?table=${data.shelf}`;
    if (data.project === projectId) void navigate(where, { replace: true });
    else openProject(data.project, where, true);
  }, [data, navigate, openProject, projectId]);
  return (
    <Box as="main" p={6} maxW="60ch">
      <Heading as="h1" size="md" fontWeight={600} mb={2}>
        Label
      </Heading>
      {found.isPending && <Text color="fg.muted">Looking up what this label is on …</Text>}
      <ProblemNote error={found.error} />
    </Box>
  );
}
