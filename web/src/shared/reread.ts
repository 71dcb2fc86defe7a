import type { InvalidateQueryFilters, QueryClient } from "@tanstack/react-query";

/**
 * Read again what a change may have moved. A first read that is still under way began before the change, and the
 * client would keep its answer as the new one: it is called off first. (A later read is called off by the client.)
 */
export async function reread(client: QueryClient, filters: InvalidateQueryFilters = {}): Promise<void> {
  const { predicate } = filters;
  await client.cancelQueries({
    ...filters,
    predicate: (query) =>
      query.state.data === undefined &&
      query.state.fetchStatus === "fetching" &&
      (predicate === undefined || predicate(query)),
  });
  await client.invalidateQueries(filters);
}
