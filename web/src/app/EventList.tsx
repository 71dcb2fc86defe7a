import { Heading, Table, Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useEvents } from "./queries";

/** What was read in the project: it stays here when its link is removed, and when it is withdrawn. */
export function EventList({ project }: { project: Project | undefined }) {
  const events = useEvents(project);
  if (!events.data?.length) return <ProblemNote error={events.error} />;
  return (
    <>
      <Heading as="h2" size="sm" fontWeight={600} mt={5}>
        Readings
      </Heading>
      <Text color="fg.muted" fontSize="13px">
        What was read is never rewritten: undo, and a correction, only say that it no longer counts.
      </Text>
      <Table.ScrollArea tabIndex={0} role="group" aria-label="Readings" whiteSpace="normal">
        <Table.Root size="sm" mt={1}>
          <Table.Body>
            {events.data.map((event) => (
              <Table.Row key={event.key} bg="transparent" color={event.withdrawn ? "fg.muted" : undefined}>
                <Table.Cell className="figures" whiteSpace="nowrap" fontSize="12px" width="1%">
                  {event.taken_on ?? "no date"}
                </Table.Cell>
                <Table.Cell className="figures" whiteSpace="nowrap">
                  {event.value_db.toFixed(2)} dB{event.wavelength_nm ? ` at ${event.wavelength_nm} nm` : ""}
                </Table.Cell>
                <Table.Cell>
                  {event.link_id === null ? (
                    `${event.link || "a link"}, which was removed`
                  ) : (
                    <RouterLink to={`/links/${event.link_id}`}>{event.link}</RouterLink>
                  )}
                </Table.Cell>
                <Table.Cell color="fg.muted">{event.note}</Table.Cell>
                <Table.Cell color="fg.muted">{event.who}</Table.Cell>
                <Table.Cell>{event.withdrawn && `withdrawn: ${event.withdrawn}`}</Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
    </>
  );
}
