import { Box, Button, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useByWhom } from "../proof/who";
import type { HandoverOut, Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { here } from "./WhoHere";
import { useHandovers, useSay } from "./queries";

interface Props {
  project: Project | undefined;
  linkId?: number;
  place?: string;
  name: string;
}

/** Sign a hand-over: it freezes what is there as a revision, open points and all. */
export function SignForm({ project, linkId, place, name }: Props) {
  const [by] = useByWhom();
  const [typed, setSigner] = useState<string | null>(null);
  const signer = typed ?? by.operator;
  const sign = useSay<object, HandoverOut>(() => `/projects/${project?.id}/handovers`);
  const found = useHandovers(project);
  const scope = linkId !== undefined ? "link" : place ? "place" : "project";
  const own = (found.data ?? []).filter((one) => one.scope === scope && (scope === "project" || one.name === name));
  return (
    <Box as="section" aria-label={`Hand over ${name}`} mt={4} fontSize="13px">
      <Heading as="h2" size="sm" fontWeight={600}>
        Hand over {name}
      </Heading>
      <Flex
        as="form"
        gap={2}
        wrap="wrap"
        align="center"
        className="no-print"
        onSubmit={(event) => {
          event.preventDefault();
          sign.mutate({ scope, link_id: linkId ?? null, place_name: place ?? "", ...here(by), signer });
        }}
      >
        <label>
          signed by{" "}
          <Input
            size="sm"
            width="160px"
            borderColor="border.emphasized"
            value={signer}
            maxLength={120}
            onChange={(event) => setSigner(event.target.value)}
          />
        </label>
        <Button
          size="sm"
          type="submit"
          disabled={!signer.trim()}
          loading={sign.isPending}
          loadingText="Making the package"
        >
          Sign and freeze
        </Button>
        {sign.data?.open_points != null && (
          <Text role="status">
            Signed with {sign.data.open_points} open {sign.data.open_points === 1 ? "point" : "points"} named in it.
          </Text>
        )}
      </Flex>
      <ProblemNote error={sign.error ?? found.error} />
      <HandoverList list={own} />
    </Box>
  );
}

/** Hand-overs that were signed: the printed sheet, the package, and the receipt that is kept apart from it. */
export function HandoverList({ list }: { list: readonly HandoverOut[] }) {
  return (
    <Box as="ul" p={0} listStyleType="none">
      {list.map((one) => (
        <Flex
          as="li"
          key={one.key}
          gap={3}
          wrap="wrap"
          align="baseline"
          borderTopWidth="1px"
          py="4px"
          data-handover={one.revision}
        >
          <b>
            {one.name || "the whole project"}, revision {one.revision}
          </b>
          <span>
            {one.signer}, {one.on}
            {one.stands
              ? one.changed_since
                ? "; changed since: a new signature makes a new revision"
                : ""
              : "; withdrawn"}
          </span>
          <span className="figures" title={one.archive_sha256}>
            archive {one.archive_sha256.slice(0, 8)} {one.archive_sha256.slice(8, 16)} …
          </span>
          <span className="figures" title={one.fingerprint}>
            key {one.fingerprint.slice(0, 8)} {one.fingerprint.slice(8, 16)} …
            {one.new_key ? " (a new key: tell whoever has the old fingerprint)" : ""}
          </span>
          <a href={`/api/v1/handovers/${one.key}.pdf`} download>
            sheet (PDF)
          </a>
          <a href={`/api/v1/handovers/${one.key}.zip`} download>
            package (ZIP)
          </a>
          <a href={`/api/v1/handovers/${one.key}.txt`} download>
            receipt (text)
          </a>
        </Flex>
      ))}
    </Box>
  );
}
