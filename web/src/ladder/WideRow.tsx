import { memo } from "react";
import { Link as RouterLink } from "react-router";

import type { Catalog, LinkRow } from "../shared/api";
import { VerdictMark } from "../shared/VerdictMark";
import { lengthText, marginText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { MarginBar } from "../draw/MarginBar";
import { MiniChain } from "../draw/MiniChain";
import "./wide-row.css";

interface Props {
  row: LinkRow;
  catalog?: Catalog;
  chosen: boolean;
  onChoose: (id: number) => void;
}

/** One link across the page: choose, verdict, next stage, name, ends, chain, application, length, margin. */
export const WideRow = memo(function WideRow({ row, catalog, chosen, onChoose }: Props) {
  const { unit } = useSettings();
  const margin_db = row.verdict === "damage" ? null : row.margin_db;
  return (
    <div className="wide-row" data-verdict={row.verdict} data-chosen={chosen}>
      <input type="checkbox" aria-label={`Choose ${row.name}`} checked={chosen} onChange={() => onChoose(row.id)} />
      <div className="verdict">
        <VerdictMark verdict={row.verdict} size={13} />
        {row.verdict_text}
      </div>
      <div className="stage">{row.stage}</div>
      <div className="name">
        <RouterLink to={`/links/${row.id}`}>{row.name}</RouterLink>
        {row.acceptance && (
          <span className="acceptance" title={`Acceptance: ${row.acceptance}`}>
            {row.acceptance.replace(" readings", "")}
          </span>
        )}
      </div>
      <div className="ends">
        {row.from_place} to {row.to_place}
      </div>
      <div className="chain">
        <MiniChain pieces={row.pieces} catalog={catalog} />
      </div>
      <div className="application figures">{row.applications.join(" | ") || "no modules"}</div>
      <div className="length figures">{lengthText(row.length_m, unit)}</div>
      <div className="margin figures">{marginText(margin_db)}</div>
      <MarginBar margin_db={margin_db} house_db={row.house_margin_db} />
    </div>
  );
});
