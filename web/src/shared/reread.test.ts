import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { expect, it } from "vitest";

import { reread } from "./reread";

/** A client whose one page reads `lines` when asked; each read answers what stood there when it began. */
function page(key: readonly unknown[]) {
  const client = new QueryClient();
  const lines: string[] = [];
  const waiting: (() => void)[] = [];
  const observer = new QueryObserver(client, {
    queryKey: key,
    queryFn: () => {
      const seen = [...lines];
      return new Promise<string[]>((answer) => waiting.push(() => answer(seen)));
    },
  });
  const close = observer.subscribe(() => {});
  return { client, lines, waiting, observer, close };
}

it("reads again what began before the change, also where it is the first read", async () => {
  const { client, lines, waiting, observer, close } = page(["turnup", 1]);
  expect(waiting).toHaveLength(1);
  lines.push("port read, link up");
  const done = reread(client, { queryKey: ["turnup"] });
  await new Promise((next) => setTimeout(next));
  expect(waiting).toHaveLength(2);
  waiting.forEach((answer) => answer());
  await done;
  expect(observer.getCurrentResult().data).toEqual(["port read, link up"]);
  close();
});

it("leaves alone what the filter leaves out", async () => {
  const { client, waiting, close } = page(["link", 7]);
  await reread(client, { queryKey: ["turnup"] });
  await reread(client, { queryKey: ["link"], predicate: (query) => query.queryKey[1] !== 7 });
  expect(waiting).toHaveLength(1);
  waiting.forEach((answer) => answer());
  close();
});
