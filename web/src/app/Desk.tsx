import { Box, Heading, Text } from "@chakra-ui/react";
import { type ReactNode, useEffect } from "react";
import { Navigate, useLocation, useParams, useSearchParams } from "react-router";

import { Ladder } from "../ladder/Ladder";
import { LinkView } from "../link/LinkView";
import { ProblemNote } from "../shared/ProblemNote";
import { useLink, useLinks } from "../shared/queries";
import { useSettings } from "../shared/settings";
import { ASKED } from "../start/again";
import { QuestionPage } from "../start/QuestionPage";

/** The first link of a project, or how one makes it. */
export function FirstLink({ projectId }: { projectId: number | undefined }) {
  const links = useLinks(projectId);
  const { search } = useLocation();
  const first = links.data?.[0];
  const asking = ["new", "like"].some((key) => new URLSearchParams(search).has(key));
  if (first && !asking) return <Navigate to={`/links/${first.id}${search}`} replace />;
  return (
    <>
      <Ladder projectId={projectId} current={undefined} />
      <Asked projectId={projectId}>
        <Box as="main" p={6} maxW="60ch">
          <Heading as="h1" size="md" fontWeight={600} mb={2}>
            Links
          </Heading>
          {links.isSuccess ? (
            <Text>
              No links yet. Press New link on the left and answer three questions: for example from "Harbor office"
              to "Cold store", 185 m, 10 Gb/s. Passerelle draws the whole chain and says at once whether it will
              light.
            </Text>
          ) : (
            <Text color="fg.muted">Reading the links …</Text>
          )}
          <ProblemNote error={links.error} />
        </Box>
      </Asked>
    </>
  );
}

/** The list of links and the link in hand. */
export function Desk({ projectId }: { projectId: number | undefined }) {
  const id = Number(useParams().id);
  const link = useLink(Number.isFinite(id) ? id : undefined);
  const { openProject } = useSettings();
  const owner = link.data?.project_id;
  useEffect(() => {
    if (owner !== undefined && owner !== projectId) openProject(owner, `/links/${id}`, true);
  }, [owner, projectId, id, openProject]);
  return (
    <>
      <Ladder projectId={projectId} current={id} />
      <Asked projectId={projectId}>
        {link.data ? (
          <LinkView key={id} detail={link.data} />
        ) : (
          <Box as="main" p={6}>
            {link.isPending && <Text color="fg.muted">Reading the link …</Text>}
            <ProblemNote error={link.error} />
          </Box>
        )}
      </Asked>
    </>
  );
}

/** The question and its answers while one is asked, else what stands there. */
function Asked({ projectId, children }: { projectId: number | undefined; children: ReactNode }) {
  const [params, setParams] = useSearchParams();
  const like = params.get("like");
  if (!params.has("new") && like === null) return children;
  const close = () =>
    setParams(
      (before) => new URLSearchParams([...before].filter(([key]) => !(ASKED as readonly string[]).includes(key))),
      { replace: true },
    );
  return <QuestionPage key={like ?? "new"} projectId={projectId} like={like ?? ""} onClose={close} />;
}
