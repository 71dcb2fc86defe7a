import { Heading, Text } from "@chakra-ui/react";

import { PlainTable } from "../shared/PlainTable";
import { jacketColor } from "../shared/colors";
import { sourceText } from "../shared/format";
import { Swatch } from "../site/Swatch";
import type { ReferencePart } from "./part";

/** Jacket, plug and strand colors, with what they leave open. */
export function ColorTable({ catalog, fits }: ReferencePart) {
  const jackets = [...new Set(catalog.fibers.flatMap((fiber) => fiber.jacket_colors))];
  const silent = catalog.marks.jacket.silent;
  const told = (color: string) =>
    catalog.fibers.filter((fiber) => fiber.jacket_colors.includes(color)).map((fiber) => fiber.name);
  const bar = (grades: string[]) => (
    <span
      style={{
        display: "inline-block",
        width: 48,
        height: 12,
        background: jacketColor(grades.slice(0, 1), catalog),
        border: "1px solid var(--chakra-colors-fg)",
      }}
    />
  );
  return (
    <>
      <Heading as="h2" size="sm" fontWeight={600} mt={3}>
        Jackets: a hint, never proof
      </Heading>
      <PlainTable
        label="Jackets"
        head={["color", "drawn", "may be", "and"]}
        rows={jackets
          .filter((color) => fits(color, ...told(color)))
          .map((color) => ({
            key: color,
            cells: [
              color,
              color.includes("(") ? "" : bar(told(color)),
              told(color).join(" or "),
              told(color).length > 1 ? "ambiguous: read the print" : "some cords follow no scheme",
            ],
          }))}
      />
      <Text fontSize="13px">
        {silent.join(", ")}: says nothing; usual outdoors. {sourceText(catalog.marks.jacket.source)}
      </Text>
      <Heading as="h2" size="sm" fontWeight={600} mt={3}>
        Plugs and boots
      </Heading>
      <PlainTable
        label="Plugs"
        head={["color", "stands for"]}
        rows={Object.entries(catalog.marks.connector.colors)
          .filter(([color, grades]) => fits(color, ...grades))
          .map(([color, grades]) => ({
            key: color,
            cells: [color, grades.join(", ") + (color === "green" ? ": angled" : color === "blue" ? ": flat" : "")],
          }))}
      />
      <Text fontSize="13px">{sourceText(catalog.marks.connector.source)}</Text>
      <Heading as="h2" size="sm" fontWeight={600} mt={3}>
        Strands and tubes, in order
      </Heading>
      {catalog.marks.strands.codes.map((code) => (
        <div key={code.name}>
          <Text fontSize="13px" mt={1}>
            <b>{code.name}</b>: {sourceText(code.source)}
          </Text>
          {code.order.length > 0 && (
            <PlainTable
              label={`Strand order by ${code.name}`}
              head={["position and color"]}
              rows={[...code.order, `${code.order[0]} with tracer`].map((color, i) => ({
                key: color,
                cells: [<Swatch key={color} number={i + 1} color={color} />],
              }))}
            />
          )}
        </div>
      ))}
    </>
  );
}
