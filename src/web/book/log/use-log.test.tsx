import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, renderHook, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, expect, it, vi } from 'vitest';
import { useLogDays } from './use-log.ts';

afterEach(() => vi.unstubAllGlobals());

const page = (what: string, next: string | null) => ({
  days: [{ on: '2026-11-25', entries: [{ key: what, line: { id: what, what } }] }],
  total: 2,
  since: '2026-01-01',
  today: '2026-11-25',
  next,
});

/** A log whose requests are answered one by one, by hand. */
function openLog() {
  const waiting: { url: string; answer(body: unknown): void; fail(): void }[] = [];
  vi.stubGlobal(
    'fetch',
    (url: string) =>
      new Promise((resolve, reject) =>
        waiting.push({
          url,
          answer: (body) => resolve(Response.json(body)),
          fail: () => reject(new TypeError('nobody answers')),
        }),
      ),
  );
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const around = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  );
  const { result } = renderHook(() => useLogDays(undefined, true), { wrapper: around });
  const next = async () => {
    await waitFor(() => expect(waiting.length).toBeGreaterThan(0));
    return waiting.shift()!;
  };
  const shown = () => result.current.read?.items.flatMap((item) => (item.kind === 'line' ? [item.line.what] : []));
  return { client, result, next, waiting, shown };
}

it('fetched anew after an act, the log shows it, though earlier lines are asked for in that moment', async () => {
  const { client, result, next, shown } = openLog();
  (await next()).answer(page('before', 'earlier'));
  await waitFor(() => expect(shown()).toEqual(['before']));
  act(() => void client.invalidateQueries());
  const anew = await next();
  // The list is scrolled while the answer is on its way.
  act(() => result.current.more.fetch());
  anew.answer(page('after', 'earlier'));
  await waitFor(() => expect(shown()).toEqual(['after']));
  act(() => result.current.more.fetch());
  const earlier = await next();
  expect(earlier.url).toMatch(/before=earlier/);
  earlier.answer(page('long ago', null));
  await waitFor(() => expect(shown()).toEqual(['after', 'long ago']));
  expect(result.current.more.has).toBe(false);
});

it('earlier lines that do not come are told, and what is there stays', async () => {
  const { result, next, waiting, shown } = openLog();
  (await next()).answer(page('now', 'earlier'));
  await waitFor(() => expect(result.current.more.has).toBe(true));
  act(() => result.current.more.fetch());
  (await next()).fail();
  await waitFor(() => expect(result.current.more.error).toBeInstanceOf(Error));
  expect(shown()).toEqual(['now']);
  expect(waiting).toEqual([]);
});
