import type { QueryClient } from '@tanstack/react-query';

/**
 * Fetches what shows anew after something was written. A first answer still on its way may have been read before the writing; a query with
 * nothing in it yet would take it for fresh, so it is let go and asked for again too.
 */
export function fetchAnew(client: QueryClient): Promise<void> {
  const first = client
    .getQueryCache()
    .findAll({ type: 'active', fetchStatus: 'fetching', predicate: ({ state }) => state.data === undefined });
  for (const query of first) void query.cancel({ silent: true });
  return client.invalidateQueries();
}
