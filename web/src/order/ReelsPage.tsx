import { Box, Flex, Heading, Text } from "@chakra-ui/react";

import type { Project, ReelsOut } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { Waiting } from "../shared/Waiting";
import { lengthText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { Downloads } from "./Downloads";
import { ReelGroup } from "./ReelGroup";
import { useReels } from "./queries";

/** Reels to scale with their cuts, a group for each kind of cable. */
export function ReelsPage({ project }: { project: Project | undefined }) {
  const found = useReels(project);
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Flex gap={2} align="center" wrap="wrap">
        <Heading as="h1" size="md" fontWeight={600}>
          Reels
        </Heading>
        <Downloads projectId={project?.id} name="reels" kinds={["csv", "xlsx", "pdf", "json"]} />
      </Flex>
      <ProblemNote error={found.error} />
      <Waiting on={found.isLoading} words="Cutting the reels" />
      {found.data && <Groups out={found.data} project={project} />}
    </Box>
  );
}

function Groups({ out, project }: { out: ReelsOut; project: Project | undefined }) {
  const { unit } = useSettings();
  const longest = Math.max(...out.plans.flatMap((plan) => plan.reels.map((reel) => reel.holds_m)), 1);
  if (out.plans.length === 0)
    return (
      <Text color="fg.muted" mt={3} maxW="70ch">
        Nothing is cut from a reel: no cable that is bought by the metre is planned. A cable of the plan whose state
        is planned stands here with its length, its slack and the waste of its ends; for example 455 m to crane 1
        and 660 m to crane 2 are cut from one reel of 2 km. Cables that are made with their plugs are on the bill.
      </Text>
    );
  return (
    <>
      <Text fontSize="13px" color="fg.muted" maxW="90ch">
        Sold are reels of {out.sold_m.map((m) => lengthText(m, unit)).join(", ")}; what is left and shorter than{" "}
        {lengthText(out.least_useful_m, unit)} is scrap. The proposal buys the least, and opens the fewest reels of
        those that do. No run gets a joint unless a closure is planned for it.
      </Text>
      {out.plans.map((plan) => (
        <ReelGroup key={plan.line} plan={plan} project={project} longest={longest} currency={out.currency} />
      ))}
    </>
  );
}
