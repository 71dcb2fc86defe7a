import { Box, Button, Text } from "@chakra-ui/react";

import type { DeliveryOut } from "../shared/api";

/** A delivery note held against the orders: what is taken, and what is nothing that was ordered, with the reason. */
export function DeliveryFound({ found, busy, onTake }: { found: DeliveryOut; busy: boolean; onTake: () => void }) {
  return (
    <Box mt={2} fontSize="13px" aria-live="polite" data-testid="delivery-found">
      {found.matched.map((one, i) => (
        <Text key={i}>
          <span className="figures">{one.arrival.quantity}</span> {one.arrival.line}
          {one.differs ? <b>, came as {one.differs}</b> : ""}
          <Text as="span" color="fg.muted">
            {" "}
            for {one.keys.length} pieces
            {one.keys.length < one.arrival.quantity ? ", the rest is spare" : ""}
          </Text>
          {one.told ? <b> {one.told}</b> : ""}
        </Text>
      ))}
      {found.unmatched.map((one, i) => (
        <Text key={i} borderLeftWidth="3px" borderColor="fg" pl={2}>
          {one.line}: {one.why}. It is left out.
        </Text>
      ))}
      {found.problems?.slice(0, 12).map((one) => (
        <Text key={`${one.line} ${one.message}`} borderLeftWidth="3px" borderColor="fg" pl={2}>
          line {one.line}, {one.column}: {one.message}
        </Text>
      ))}
      <Button
        size="xs"
        mt={1}
        disabled={found.matched.length === 0 || (found.problems?.length ?? 0) > 0}
        loading={busy}
        onClick={onTake}
      >
        Take {found.matched.length === 1 ? "this line" : `these ${found.matched.length} lines`}
      </Button>
    </Box>
  );
}
