import { Box, Button, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

import type { Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useHistory, useReturn } from "./queries";
import { RecordList } from "../proof/RecordList";
import { DaysDrawing } from "./DaysDrawing";
import { byDay, dayText } from "./days";
import { EventList } from "./EventList";
import { StorageLine } from "./StorageLine";

const STATES: Record<string, string> = { done: "", undone: "undone", dropped: "undone, then replaced" };

/** The log of the project: what, when, which link; and the way back to any state in force. */
export function HistoryPage({ project }: { project: Project | undefined }) {
  const log = useHistory(project?.id, project !== undefined);
  const back = useReturn(project?.id);
  const entries = log.data ?? [];
  const days = byDay(entries);
  const newest = entries.find((entry) => entry.state === "done")?.id;
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Heading as="h1" size="md" fontWeight={600}>
        Records
      </Heading>
      <Text color="fg.muted" fontSize="13px">
        Newest first. Returning to a state is a change of its own: it can be undone, and nothing is lost.
      </Text>
      <StorageLine />
      <ProblemNote error={log.error ?? back.error} />
      {log.isSuccess && entries.length === 0 && (
        <Text mt={3}>Nothing was changed yet. Change a piece of a link, and it stands here.</Text>
      )}
      {days.length > 0 && <DaysDrawing days={days} />}
      {days.map((day) => (
        <Box key={day.day} as="section" aria-label={dayText(day.day)} mt={4}>
          <Flex gap={3} align="baseline" wrap="wrap" borderBottomWidth="1px">
            <Heading as="h2" size="sm" fontWeight={600}>
              {dayText(day.day)}
            </Heading>
            <Text fontSize="12.5px" color="fg.muted">
              {day.hands.map(([name, count]) => `${count} by ${name}`).join(", ")}
            </Text>
          </Flex>
          <Table.ScrollArea tabIndex={0} role="group" aria-label={`Log of ${day.day}`} whiteSpace="normal">
            <Table.Root size="sm">
              <Table.Body>
                {day.entries.map((entry) => (
                  <Table.Row key={entry.id} bg="transparent">
                    <Table.Cell className="figures" whiteSpace="nowrap" fontSize="12px" width="1%">
                      {new Date(entry.at).toLocaleTimeString("en-US", { hour: "2-digit", minute: "2-digit" })}
                    </Table.Cell>
                    <Table.Cell>
                      {entry.link_id === null ? (
                        entry.label
                      ) : (
                        <RouterLink to={`/links/${entry.link_id}`}>{entry.label}</RouterLink>
                      )}
                    </Table.Cell>
                    <Table.Cell color="fg.muted">{entry.who}</Table.Cell>
                    <Table.Cell color="fg.muted">{STATES[entry.state]}</Table.Cell>
                    <Table.Cell textAlign="end">
                      {entry.state === "done" && entry.id !== newest && (
                        <Button
                          size="xs"
                          variant="outline"
                          loading={back.isPending}
                          onClick={() => newest && back.mutate({ to: entry.id, newest })}
                        >
                          Return to here
                        </Button>
                      )}
                    </Table.Cell>
                  </Table.Row>
                ))}
              </Table.Body>
            </Table.Root>
          </Table.ScrollArea>
        </Box>
      ))}
      <EventList project={project} />
      <RecordList project={project} />
    </Box>
  );
}
