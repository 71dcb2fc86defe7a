import type { Element } from "../shared/api";

/** Chains set against each other: rows of pieces that stand at the same place of the work, null where one has none. */
export type Aligned = readonly (readonly (Element | null)[])[];

/** The longest run of kinds that two chains share, as pairs of places (dynamic programming over both). */
function common(one: readonly string[], other: readonly string[]): [number, number][] {
  const best = Array.from({ length: one.length + 1 }, () => new Array<number>(other.length + 1).fill(0));
  for (let i = one.length - 1; i >= 0; i--)
    for (let j = other.length - 1; j >= 0; j--)
      best[i]![j] = one[i] === other[j] ? best[i + 1]![j + 1]! + 1 : Math.max(best[i + 1]![j]!, best[i]![j + 1]!);
  const found: [number, number][] = [];
  let [i, j] = [0, 0];
  while (i < one.length && j < other.length) {
    if (one[i] === other[j]) found.push([i++, j++]);
    else if (best[i + 1]![j]! >= best[i]![j + 1]!) i++;
    else j++;
  }
  return found;
}

/** Sets chains against each other piece by piece: each is laid against the rows that those before it made. */
export function aligned(chains: readonly (readonly Element[])[]): Aligned {
  let rows: (Element | null)[][] = (chains[0] ?? []).map((piece) => [piece]);
  chains.slice(1).forEach((chain, n) => {
    const kinds = rows.map((row) => row.find((piece) => piece !== null)?.kind ?? "");
    const pairs = new Map(
      common(
        kinds,
        chain.map((piece) => piece.kind),
      ),
    );
    const next: (Element | null)[][] = [];
    let at = 0;
    rows.forEach((row, i) => {
      const met = pairs.get(i);
      if (met === undefined) return next.push([...row, null]);
      for (; at < met; at++) next.push([...new Array<null>(n + 1).fill(null), chain[at] ?? null]);
      next.push([...row, chain[at++] ?? null]);
    });
    for (; at < chain.length; at++) next.push([...new Array<null>(n + 1).fill(null), chain[at] ?? null]);
    rows = next;
  });
  return rows;
}
