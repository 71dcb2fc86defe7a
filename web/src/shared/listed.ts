import type { QueryClient } from "@tanstack/react-query";

import { type LinkDetail, type LinkNews, type LinkPage, type LinkRow, type PortClash, call } from "./api";

/** The list of links as far as it is here: all of it, unless more is on its way; good at a revision of the project. */
export interface Listed {
  revision: number;
  count: number;
  clashes: PortClash[];
  rows: LinkRow[];
}

/** The rows as they stand beside each other: links that share a port with another fail, whatever they are alone. */
export function rowsOf({ rows, clashes }: Listed): LinkRow[] {
  if (clashes.length === 0) return rows;
  const shared = new Set(clashes.map((one) => one.link));
  return rows.map((row) => {
    if (!shared.has(row.id) || row.verdict === "fail" || row.verdict === "damage") return row;
    return { ...row, verdict: "fail", verdict_text: "fail", stage: "match" };
  });
}

const FIRST = 200;
const MORE = 4000;

export const listKey = (projectId: number | undefined) => ["links", projectId] as const;

/** The list: page by page at first, the first rows shown at once; later only what changed. */
export async function readList(client: QueryClient, projectId: number): Promise<Listed> {
  const known = client.getQueryData<Listed>(listKey(projectId));
  if (known && known.rows.length === known.count) return news(projectId, known);
  let here: Listed | undefined;
  do {
    const asked = `after=${here?.rows.length ?? 0}&most=${here ? MORE : FIRST}`;
    const page = await call<LinkPage>(`/projects/${projectId}/links/page?${asked}`);
    if (here && page.revision !== here.revision)
      here = undefined; // it changed meanwhile: from the beginning
    else here = { ...page, rows: [...(here?.rows ?? []), ...page.rows] };
    if (here && here.rows.length < here.count) client.setQueryData(listKey(projectId), here);
  } while (!here || here.rows.length < here.count);
  return here;
}

const news = async (projectId: number, known: Listed): Promise<Listed> =>
  renewed(known, await call<LinkNews>(`/projects/${projectId}/links/news?since=${known.revision}`));

/** The list after news: rows that did not change stay the very same. */
export function renewed(known: Listed, told: LinkNews): Listed {
  const rows = new Map([...known.rows, ...told.rows].map((row) => [row.id, row]));
  const listed = told.numbers.flatMap((number) => rows.get(number) ?? []);
  return { revision: told.revision, count: listed.length, clashes: told.clashes, rows: listed };
}

/** The list after the answer to a change of one link, where nothing else changed since; null where it did. */
export function withAnswer(known: Listed, answered: LinkDetail): Listed | null {
  if (answered.revision <= known.revision) return known;
  if (answered.revision > known.revision + 1 || known.rows.length < known.count) return null;
  const at = known.rows.findIndex((row) => row.id === answered.id);
  if (at < 0) return null;
  return {
    ...known,
    revision: answered.revision,
    clashes: answered.clashes ?? known.clashes,
    rows: known.rows.with(at, answered.row),
  };
}
