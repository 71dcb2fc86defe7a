import { Heading, Text } from "@chakra-ui/react";

import { MIDDLE, PlugShape } from "../link/pieces/PlugShape";
import { PlainTable } from "../shared/PlainTable";
import type { Plug } from "../shared/colors";
import { rateText, sourceText } from "../shared/format";
import type { ReferencePart } from "./part";

/** Plug shapes with their polishes as we draw them, and cages with what fits in them. */
export function CageTable({ catalog, fits }: ReferencePart) {
  return (
    <>
      <Heading as="h2" size="sm" fontWeight={600} mt={3}>
        Plugs and polishes
      </Heading>
      <PlainTable
        label="Plugs and polishes"
        head={["shape", "drawn here", "what it is", "from"]}
        rows={catalog.connectors
          .filter((one) => fits(one.name, one.description))
          .map((one) => ({
            key: one.name,
            cells: [
              one.name,
              <span key="drawn" style={{ display: "flex", gap: 12 }}>
                {one.polishes.map((polish) => (
                  <span key={polish}>
                    <svg
                      width="30"
                      height="38"
                      viewBox={`-4 ${MIDDLE - 19} 28 38`}
                      aria-hidden
                      style={{ display: "inline-block", verticalAlign: "middle" }}
                    >
                      <PlugShape plug={{ shape: one.name, polish } as Plug} x={0} points="left" />
                    </svg>{" "}
                    {polish}
                  </span>
                ))}
              </span>,
              one.description,
              sourceText(one.source),
            ],
          }))}
      />
      <PlainTable
        label="Polishes"
        head={["polish", "returns at least", "from"]}
        figures={[1]}
        rows={catalog.polishes.map((one) => ({
          key: one.name,
          cells: [one.name, `${one.return_loss_db} dB`, sourceText(one.source)],
        }))}
      />
      <Text fontSize="13px" fontWeight={600}>
        Angled on flat is never allowed: it damages both.
      </Text>
      <Heading as="h2" size="sm" fontWeight={600} mt={3}>
        Cages
      </Heading>
      <PlainTable
        label="Cages"
        head={["cage", "takes", "up to", "from"]}
        rows={catalog.cages
          .filter((one) => fits(one.name, ...one.accepts))
          .map((one) => ({
            key: one.name,
            cells: [
              one.name,
              one.accepts.join(", ") || "no module",
              rateText(one.max_rate_mbps),
              sourceText(one.source),
            ],
          }))}
      />
    </>
  );
}
