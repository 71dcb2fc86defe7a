import { Box, Button, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { BillLine, BillOut, Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { Waiting } from "../shared/Waiting";
import { BillGroup } from "./BillGroup";
import { Downloads } from "./Downloads";
import { MissingNote } from "./MissingNote";
import { Papers } from "./Papers";
import { Shares } from "./Shares";
import { SumBar } from "./SumBar";
import { useBill, usePlaceOrder } from "./queries";
import { money } from "./words";

/** What to buy for the links and the plan as they are: grouped by where, each line with who asks for it. */
export function BillPage({ project }: { project: Project | undefined }) {
  const found = useBill(project);
  return (
    <Flex flex="1" minH={0} direction={{ base: "column", lg: "row" }} overflow={{ base: "auto", lg: "hidden" }}>
      <Box as="main" flex="1" minW={0} overflowY={{ lg: "auto" }} px={4} py={3}>
        <Heading as="h1" size="md" fontWeight={600}>
          Bill
        </Heading>
        <ProblemNote error={found.error} />
        <Waiting on={found.isLoading} words="Counting the pieces" />
        {found.data && <Whole project={project} out={found.data} />}
      </Box>
      {found.data && (
        <Box
          as="aside"
          aria-label="Sums and papers"
          width={{ base: "auto", lg: "300px" }}
          flexShrink={0}
          borderLeftWidth={{ lg: "1px" }}
          overflowY={{ lg: "auto" }}
          px={3}
          py={3}
          bg="bg.subtle"
        >
          <Shares out={found.data} />
          <Papers papers={found.data.papers} />
        </Box>
      )}
    </Flex>
  );
}

function groups(lines: readonly BillLine[]): [string, BillLine[]][] {
  const found = new Map<string, BillLine[]>();
  for (const line of lines) found.set(line.where, [...(found.get(line.where) ?? []), line]);
  return [...found];
}

function Whole({ project, out }: { project: Project | undefined; out: BillOut }) {
  const { bill, currency } = out;
  const [all, setAll] = useState(false);
  const wanted = bill.lines.filter((line) => line.to_order !== 0);
  const shown = all ? bill.lines : wanted;
  const sums = groups(wanted).map(([where, lines]) => [where, lines.reduce((sum, l) => sum + l.total, 0)] as const);
  return (
    <>
      <Text>
        To order: <b className="figures">{money(bill.total)}</b> {currency}, of which{" "}
        <span className="figures">{money(bill.quoted)}</span> quoted
        {bill.quoted < bill.total ? " and the rest by estimate: put quoted prices on the lines" : ""}.
      </Text>
      <SumBar parts={sums} currency={currency} label="The sum by where it is bought" />
      <Flex gap={1} mt={2} wrap="wrap" align="center">
        <PlaceOrder project={project} count={wanted.length} />
        <Downloads projectId={project?.id} name="bill" kinds={["csv", "xlsx", "pdf", "json"]} />
        {bill.lines.length > wanted.length && (
          <Button size="xs" variant="ghost" className="no-print" aria-pressed={all} onClick={() => setAll(!all)}>
            {all ? "Only what is to be ordered" : `${bill.lines.length - wanted.length} lines that are ordered`}
          </Button>
        )}
      </Flex>
      <MissingNote missing={bill.missing} />
      {shown.length === 0 && bill.missing.length === 0 && (
        <Text color="fg.muted" mt={3} maxW="70ch">
          {bill.lines.length > 0
            ? "Nothing is to be ordered: every piece is there, or ordered."
            : 'No piece is planned yet. Make a link first: New link, under Links, answers "from where to where, how far, how fast", and its pieces stand here, counted once. For example Harbor office to Cold store, 185 m, 10 Gb/s: two modules, two cords, one cable with its plugs.'}
        </Text>
      )}
      {groups(shown).map(([where, lines]) => (
        <BillGroup key={where} where={where} lines={lines} project={project} currency={currency} />
      ))}
      {bill.unused_overrides?.map((words) => (
        <Text key={words} fontSize="13px" role="status" mt={2}>
          A quantity was set for &ldquo;{words}&rdquo;, which nothing asks for any more.
        </Text>
      ))}
    </>
  );
}

function PlaceOrder({ project, count }: { project: Project | undefined; count: number }) {
  const [note, setNote] = useState("");
  const order = usePlaceOrder(project);
  return (
    <Flex gap={1} align="center" className="no-print" wrap="wrap">
      <Input
        size="xs"
        width="150px"
        aria-label="Note on the order"
        placeholder="order number, supplier"
        borderColor="border.emphasized"
        value={note}
        maxLength={120}
        onChange={(event) => setNote(event.target.value)}
      />
      <Button
        size="xs"
        disabled={count === 0}
        loading={order.isPending}
        onClick={() => order.mutate({ note }, { onSuccess: () => setNote("") })}
      >
        {count > 0 ? `Place this order, ${count} lines` : "Nothing to order"}
      </Button>
      <ProblemNote error={order.error} />
    </Flex>
  );
}
