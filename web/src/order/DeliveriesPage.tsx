import { Box, Button, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { DeliveryRequest, Project } from "../shared/api";
import { Columns } from "../exchange/Columns";
import { TableText } from "../exchange/TableText";
import { ProblemNote } from "../shared/ProblemNote";
import { Waiting } from "../shared/Waiting";
import { ArrivalForm } from "./ArrivalForm";
import { DeliveryFound } from "./DeliveryFound";
import { Papers } from "./Papers";
import { WaitingLines } from "./WaitingLines";
import { useBill, useDeliveryPreview, useTakeDelivery } from "./queries";

const EXAMPLE = 'line,quantity,grade\n"cord, OM4, LC PC to LC PC, duplex, A-to-B (ordinary), 2 m",4,OM3';

/** What came: a line at a time, or a delivery note as a table. What matches becomes delivered, as it came. */
export function DeliveriesPage({ project }: { project: Project | undefined }) {
  const bill = useBill(project);
  const [note, setNote] = useState("");
  const [text, setText] = useState("");
  const [mapping, setMapping] = useState<Record<string, string> | null>(null);
  const preview = useDeliveryPreview(project);
  const take = useTakeDelivery(project);
  const wish: DeliveryRequest = { note, text, mapping, lines: [], workbook: "", all_as_ordered: false };
  const ordered = new Map(bill.data?.waiting.map((one) => [one.words, one]));
  const waiting = bill.data?.bill.lines.filter((line) => ordered.has(line.words)) ?? [];
  const open = bill.data?.waiting.filter((one) => one.open > 0) ?? [];
  return (
    <Box as="main" flex="1" overflowY="auto" px={4} py={3}>
      <Heading as="h1" size="md" fontWeight={600}>
        Deliveries
      </Heading>
      <ProblemNote error={bill.error} />
      <Waiting on={bill.isLoading} words="Reading the orders" />
      {bill.data && waiting.length === 0 && (
        <Text color="fg.muted" mt={2} maxW="70ch">
          Nothing is ordered yet. Place an order on the page Bill; what comes for it is taken here, and a cord of
          another grade or a module of another coding moves the verdict of its link at once.
        </Text>
      )}
      {waiting.length > 0 && (
        <>
          <label>
            Delivery note{" "}
            <Input
              size="xs"
              width="200px"
              borderColor="border.emphasized"
              placeholder="its number"
              value={note}
              maxLength={120}
              onChange={(event) => setNote(event.target.value)}
            />
          </label>
          {open.length > 0 && (
            <Box mt={2}>
              <Button
                size="xs"
                loading={take.isPending}
                onClick={() => take.mutate({ ...wish, text: "", mapping: null, all_as_ordered: true })}
              >
                All came as ordered
              </Button>{" "}
              <Text as="span" fontSize="13px" color="fg.muted">
                {open.length} {open.length === 1 ? "line is" : "lines are"} waited for
              </Text>
            </Box>
          )}
          <ArrivalForm lines={waiting} ordered={ordered} project={project} note={note} />
          <Box as="section" aria-label="Delivery note as a table" mt={5} maxW="900px">
            <Heading as="h2" size="sm" fontWeight={600}>
              Or the delivery note as a table
            </Heading>
            <TableText
              fileLabel="Delivery note as a file"
              textLabel="Delivery note as text"
              example={EXAMPLE}
              text={text}
              rows={4}
              onText={setText}
              onFile={(given) => {
                setMapping(null);
                setText(given);
              }}
            />
            <Flex gap={1} mt={1}>
              <Button
                size="xs"
                variant="outline"
                disabled={text.trim() === ""}
                onClick={() => preview.mutate(wish)}
                loading={preview.isPending}
              >
                Compare with orders
              </Button>
            </Flex>
            <ProblemNote error={preview.error ?? take.error} />
            {preview.data && text.trim() !== "" && preview.data.columns && preview.data.columns.length > 0 && (
              <Columns
                columns={preview.data.columns}
                fields={preview.data.fields ?? []}
                unknown={preview.data.columns.filter(
                  (column) => !Object.values(mapping ?? preview.data?.mapping ?? {}).includes(column),
                )}
                mapping={mapping ?? preview.data.mapping ?? {}}
                onMap={(next) => {
                  setMapping(next);
                  preview.mutate({ ...wish, mapping: next });
                }}
              />
            )}
            {preview.data && text.trim() !== "" && (
              <DeliveryFound
                found={preview.data}
                busy={take.isPending}
                onTake={() => take.mutate(wish, { onSuccess: () => setText("") })}
              />
            )}
            {take.data && text === "" && (
              <Text role="status" fontSize="13px">
                {take.data.matched.length} lines were taken
                {take.data.unmatched.length > 0 ? `, ${take.data.unmatched.length} left out` : ""}.
              </Text>
            )}
          </Box>
        </>
      )}
      {bill.data && waiting.length > 0 && <WaitingLines waiting={bill.data.waiting} lines={waiting} />}
      {bill.data && bill.data.papers.length > 0 && <Papers papers={bill.data.papers} here />}
    </Box>
  );
}
