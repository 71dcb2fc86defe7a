import { Button, Heading, Table, Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useRecords, useWithdraw } from "./queries";

/** Records of acceptance beside readings: they stay, and one that was wrong is withdrawn. */
export function RecordList({ project }: { project: Project | undefined }) {
  const found = useRecords(project);
  const withdraw = useWithdraw(project);
  if (!found.data?.length) return <ProblemNote error={found.error} />;
  return (
    <>
      <Heading as="h2" size="sm" fontWeight={600} mt={5}>
        References, faces, strands, traces, testers
      </Heading>
      <Text color="fg.muted" fontSize="13px">
        A record is never rewritten. One that was wrong is withdrawn, and another one written.
      </Text>
      <ProblemNote error={withdraw.error} />
      <Table.ScrollArea tabIndex={0} role="group" aria-label="Records of acceptance" whiteSpace="normal">
        <Table.Root size="sm" mt={1}>
          <Table.Body>
            {found.data.slice(0, 500).map((one) => (
              <Table.Row key={one.key} bg="transparent" color={one.withdrawn ? "fg.muted" : undefined}>
                <Table.Cell className="figures" whiteSpace="nowrap" fontSize="12px" width="1%">
                  {one.taken_on ?? "no date"}
                </Table.Cell>
                <Table.Cell>{one.words}</Table.Cell>
                <Table.Cell>
                  {one.link_id === null ? (
                    one.link
                  ) : (
                    <RouterLink to={`/links/${one.link_id}?lens=proof`}>{one.link}</RouterLink>
                  )}
                </Table.Cell>
                <Table.Cell color="fg.muted">
                  {[one.instrument, one.operator, one.note].filter(Boolean).join(", ")}
                </Table.Cell>
                <Table.Cell>
                  {one.withdrawn ? (
                    `withdrawn: ${one.withdrawn}`
                  ) : (
                    <Button
                      size="xs"
                      variant="outline"
                      aria-label={`Withdraw ${one.words}`}
                      onClick={() => withdraw.mutate({ key: one.key, why: "withdrawn by hand" })}
                    >
                      Withdraw
                    </Button>
                  )}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
    </>
  );
}
