import { Button, Text } from "@chakra-ui/react";

import "./comparison.css";
import type { Catalog, Element, Option, Source } from "../shared/api";
import { PlainTable } from "../shared/PlainTable";
import { lengthText, marginText, rateText, sourceText } from "../shared/format";
import { kindName } from "../shared/kinds";
import { useCatalog } from "../shared/queries";
import { type LengthUnit, useSettings } from "../shared/settings";
import { caption } from "../link/names";
import { MiniChain } from "../draw/MiniChain";
import { aligned } from "./aligned";
import { marksOf } from "./marks";

interface Line {
  key: string;
  strong?: boolean;
  cells: string[];
}

/** Up to four answers side by side, piece by piece; what is alike in all of them is left out and counted. */
export function Comparison({
  options,
  currency,
  source,
  onClose,
}: {
  options: readonly Option[];
  currency: string;
  source: Source | undefined;
  onClose: () => void;
}) {
  const { unit } = useSettings();
  const catalog = useCatalog().data;
  const lines = [...figures(options), ...pieces(options, unit, catalog), ...prices(options, currency, unit)];
  const apart = lines.filter((line) => line.strong || new Set(line.cells).size > 1);
  const alike = lines.length - apart.length;
  return (
    <section className="comparison" aria-label="Answers side by side">
      <Button size="2xs" variant="outline" onClick={onClose}>
        Close
      </Button>{" "}
      <span>
        Differences only{alike > 0 ? `: ${alike} ${alike === 1 ? "line is" : "lines are"} alike in all` : ""}.
      </span>
      <PlainTable
        label="Side by side"
        head={["what", ...options.map((option) => option.key)]}
        figures={options.map((_, i) => i + 1)}
        rows={[
          {
            key: "chain",
            cells: [
              "chain",
              ...options.map((option) => (
                <MiniChain key={option.key} pieces={marksOf(option.links)} catalog={catalog} />
              )),
            ],
          },
          ...apart.map(({ key, strong, cells }) => ({ key, strong, cells: [key.replace(/ #\d+$/, ""), ...cells] })),
        ]}
      />
      {source && <Text color="fg.muted">Prices: {sourceText(source)} (Import and export).</Text>}
    </section>
  );
}

function figures(options: readonly Option[]): Line[] {
  const each = (key: string, cell: (option: Option) => string) => ({ key, cells: options.map(cell) });
  return [
    each("verdict", (option) => option.verdict_text),
    each("margin", (option) => marginText(option.margin_db)),
    each("people get", (option) => rateText(option.gets_mbps)),
    each("decided by", (option) => option.bottleneck),
    each("later speed", (option) => option.later || "no"),
    each("strands", (option) => (option.strands ? String(option.strands) : "none")),
    each("kinds of spares", (option) => String(option.spares)),
    each("needs", (option) => option.tools),
  ];
}

/** The pieces of the first link of each answer, set against each other in the order of the work. */
function pieces(options: readonly Option[], unit: LengthUnit, catalog: Catalog | undefined): Line[] {
  const words = (piece: Element | null) =>
    piece === null ? "–" : caption(piece, unit, catalog).filter(Boolean).join(", ");
  return aligned(options.map((option) => option.links[0]?.elements ?? [])).map((row, i) => {
    const first = row.find((piece) => piece !== null);
    return { key: `${first ? kindName(first.kind) : ""} #${i}`, cells: row.map(words) };
  });
}

function prices(options: readonly Option[], currency: string, unit: LengthUnit): Line[] {
  const items = [...new Set(options.flatMap((option) => option.cost.lines.map((line) => line.item)))];
  const line = (option: Option, item: string) => {
    const found = option.cost.lines.find((one) => one.item === item);
    if (!found) return "–";
    return found.unit === "m" || item.endsWith("a metre")
      ? `${lengthText(found.count, unit)} × ${found.price}`
      : `${found.count} × ${found.price}`;
  };
  return [
    ...items.map((item) => ({ key: item, cells: options.map((option) => line(option, item)) })),
    { key: "pieces", cells: options.map((option) => option.cost.material.toFixed(0)) },
    { key: "work", cells: options.map((option) => option.cost.work.toFixed(0)) },
    { key: `total, ${currency}`, strong: true, cells: options.map((option) => option.cost.total.toFixed(0)) },
  ];
}
