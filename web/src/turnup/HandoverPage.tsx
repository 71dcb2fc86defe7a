import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import { PackageCheck } from "./PackageCheck";
import { useState } from "react";
import { Link as RouterLink } from "react-router";

import { useByWhom } from "../proof/who";
import type { Project } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { HandoverList, SignForm } from "./SignForm";
import { WhoHere } from "./WhoHere";
import { useHandovers, useTurnUps } from "./queries";

/** Hand over a place or the whole project, and check a package that came back. */
export function HandoverPage({ project }: { project: Project | undefined }) {
  const [by, setBy] = useByWhom();
  const [place, setPlace] = useState("");
  const links = useTurnUps(project).data?.links;
  const found = useHandovers(project);
  const places = [...new Set((links ?? []).flatMap((one) => one.places))].sort();
  const lit = (links ?? []).filter((one) => one.state === "lit").length;
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Heading as="h1" size="md" fontWeight={600}>
        Hand over
      </Heading>
      <Text fontSize="13px" color="fg.muted" maxW="90ch">
        A hand-over holds the chain as built, the strand map, readings, module identities, what differs from the
        plan, and every open point by name. It is signed with this installation's key, whose fingerprint is printed
        on the sheet. The receipt with the digest of the archive stays apart from it. Signing freezes a revision.
      </Text>
      {links?.length === 0 && (
        <Text mt={2} fontSize="13px">
          Nothing to hand over yet: draw a link under Links, such as "Harbor office" to "Lock house", test it, turn
          it up.
        </Text>
      )}
      {links !== undefined && links.length > 0 && (
        <>
          <WhoHere by={by} onChange={setBy} />
          <Flex gap={3} align="center" mt={2} fontSize="13px" wrap="wrap">
            <Choice
              label="What is handed over"
              value={place}
              onChange={setPlace}
              options={[["", "the whole project"], ...places.map((one) => [one, one] as const)]}
            />
            <Text>
              {lit} of {links.length} links are lit as planned. A single link is handed over on{" "}
              <RouterLink to="/turnup">its own page</RouterLink>.
            </Text>
          </Flex>
          <SignForm
            key={place}
            project={project}
            place={place || undefined}
            name={place || (project?.name ?? "")}
          />
        </>
      )}
      <ProblemNote error={found.error} />
      {(found.data?.length ?? 0) > 0 && (
        <Box mt={4} fontSize="13px">
          <Heading as="h2" size="sm" fontWeight={600}>
            All that was signed
          </Heading>
          <HandoverList list={found.data ?? []} />
        </Box>
      )}
      <PackageCheck />
    </Box>
  );
}
