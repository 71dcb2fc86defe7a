import { Button, Text } from "@chakra-ui/react";

import "./comparison.css";
import type { Option, Source } from "../shared/api";
import { PlainTable } from "../shared/PlainTable";
import { lengthText, marginText, rateText, sourceText } from "../shared/format";
import { useSettings } from "../shared/settings";

/** Up to four answers side by side: verdict, margin, later speed, and what each costs, item by item. */
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
  const items = [...new Set(options.flatMap((option) => option.cost.lines.map((line) => line.item)))];
  const each = (words: string, cell: (option: Option) => string, strong = false) => ({
    key: words,
    strong,
    cells: [words, ...options.map(cell)],
  });
  const line = (option: Option, item: string) => {
    const found = option.cost.lines.find((one) => one.item === item);
    if (!found) return "";
    return item.endsWith("a metre")
      ? `${lengthText(found.count, unit)} × ${found.price}`
      : `${found.count} × ${found.price}`;
  };
  return (
    <section className="comparison" aria-label="Answers side by side">
      <Button size="2xs" variant="outline" onClick={onClose}>
        Close
      </Button>
      <PlainTable
        label="Side by side"
        head={["what", ...options.map((option) => option.key)]}
        figures={options.map((_, i) => i + 1)}
        rows={[
          each("verdict", (option) => option.verdict_text),
          each("margin", (option) => marginText(option.margin_db)),
          each("people get", (option) => rateText(option.gets_mbps)),
          each("decided by", (option) => option.bottleneck),
          each("later speed", (option) => option.later || "no"),
          each("strands", (option) => (option.strands ? String(option.strands) : "none")),
          each("kinds of spares", (option) => String(option.spares)),
          each("needs", (option) => option.tools),
          ...items.map((item) => each(item, (option) => line(option, item))),
          each("pieces", (option) => option.cost.material.toFixed(0)),
          each("work", (option) => option.cost.work.toFixed(0)),
          each(`total, ${currency}`, (option) => option.cost.total.toFixed(0), true),
        ]}
      />
      {source && <Text color="fg.muted">Prices: {sourceText(source)} (In and out).</Text>}
    </section>
  );
}
