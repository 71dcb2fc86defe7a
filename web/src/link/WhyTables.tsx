import { Box, Table, Text } from "@chakra-ui/react";

import type { DirectionReview, LinkDetail, Source } from "../shared/api";
import { figureText, marginText, signedText, sourceText } from "../shared/format";
import { pieceName } from "./names";

/** Every figure of one direction with its source: the loss term by term, then each limit as a sum. */
export function WhyTables({ direction, link }: { direction: DirectionReview; link: LinkDetail["link"] }) {
  const names = new Map(link.elements.map((e) => [e.id, pieceName(e)]));
  return (
    <Box mt={3} data-testid="why">
      <Table.Root size="sm" aria-label="Loss, term by term">
        <Table.Header>
          <Table.Row bg="transparent">
            <Head>piece</Head>
            <Head>what</Head>
            <Head end>worst dB</Head>
            <Head end>expected dB</Head>
            <Head end>least dB</Head>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {direction.terms.map((term, i) => (
            <Table.Row key={i} bg="transparent">
              <Cell>{names.get(term.at)}</Cell>
              <Cell>
                {term.what}
                <From word="worst" source={term.worst_source} />
                <From word="expected" source={term.expected_source} />
                <From word="least" source={term.least_source} />
              </Cell>
              <Cell end>{figureText(term.worst_db)}</Cell>
              <Cell end>{figureText(term.expected_db)}</Cell>
              <Cell end>{figureText(term.least_db)}</Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
      <Text mt={2} fontSize="12px" color="fg.muted">
        97.5 %: quantile of the sum with each term drawn from a triangle between least and worst with its peak at
        expected, independent, fixed seed. The plug in a module is part of its clause's test point and is no pair.
      </Text>
      {direction.limits.map((limit) => (
        <Table.Root key={limit.application + limit.name} size="sm" mt={3} aria-label={limit.name}>
          <Table.Body>
            {limit.figures.map((figure, i) => (
              <Table.Row key={i} bg="transparent">
                <Cell>
                  {figure.label}
                  <From word="from" source={figure.source} />
                </Cell>
                <Cell end>
                  {signedText(figure.value)} {figure.unit}
                </Cell>
              </Table.Row>
            ))}
            <Table.Row bg="transparent" fontWeight={600}>
              <Cell>
                {limit.application}, margin against {limit.name}
              </Cell>
              <Cell end>{marginText(limit.margin_db, 2)}</Cell>
            </Table.Row>
          </Table.Body>
        </Table.Root>
      ))}
    </Box>
  );
}

function Head({ children, end }: { children: string; end?: boolean }) {
  return (
    <Table.ColumnHeader py={1} px={1} textAlign={end ? "end" : undefined} color="fg.muted" fontSize="12px">
      {children}
    </Table.ColumnHeader>
  );
}

function Cell({ children, end }: { children: React.ReactNode; end?: boolean }) {
  return (
    <Table.Cell
      py={1}
      px={1}
      verticalAlign="top"
      textAlign={end ? "end" : undefined}
      className={end ? "figures" : undefined}
      whiteSpace={end ? "nowrap" : undefined}
    >
      {children}
    </Table.Cell>
  );
}

function From({ word, source }: { word: string; source: Source }) {
  return (
    <Text fontSize="11.5px" color="fg.muted" lineHeight={1.35}>
      {word}: {source.estimate ? <b>{sourceText(source)}</b> : sourceText(source)}
    </Text>
  );
}
