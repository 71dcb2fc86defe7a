import { expect, test } from "vitest";

import type { Element } from "../shared/api";
import { aligned } from "./aligned";

const chain = (...kinds: string[]) => kinds.map((kind, i) => ({ kind, key: `${kind}-${i}` }) as unknown as Element);
const told = (chains: Element[][]) =>
  aligned(chains).map((row) => row.map((piece) => piece?.kind ?? "–").join(" "));

test("chains are set against each other by what their pieces are", () => {
  expect(
    told([chain("port", "module", "cord", "run", "cord", "module", "port"), chain("port", "assembly", "port")]),
  ).toEqual(["port port", "module –", "cord –", "run –", "cord –", "module –", "– assembly", "port port"]);
});

test("every piece of every chain stands once, in its order", () => {
  const chains = [
    chain("port", "a", "b", "port"),
    chain("port", "b", "c", "port"),
    chain("port", "a", "c", "port"),
  ];
  const rows = aligned(chains);
  chains.forEach((one, n) => expect(rows.flatMap((row) => row[n] ?? [])).toEqual(one));
  expect(aligned([])).toEqual([]);
});
