import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { MemoryRouter, Route, Routes } from 'react-router';
import { vi } from 'vitest';
import { ActsProvider } from '../src/web/shell/acts.tsx';

/** What the stand-in server was asked to carry out. */
export type Asked = { method: string; url: string; body: unknown };

/**
 * For component tests: a page on a stand-in server. Reads answer by address, a promise when it is kept; acts are kept in `asked` and answered by `answer`.
 */
export function openPage(page: ReactNode, reads: Record<string, unknown>, path = '/', route = '*') {
  const asked: Asked[] = [];
  const stand = { answer: (): Response => Response.json({ eventId: 'e', repeated: false }) };
  vi.stubGlobal(
    'fetch',
    vi.fn(async (url: string, init?: RequestInit) => {
      if (init?.method && init.method !== 'GET' && !(init.method === 'POST' && url in reads)) {
        asked.push({
          method: init.method,
          url,
          body: typeof init.body === 'string' ? (JSON.parse(init.body) as unknown) : undefined,
        });
        return stand.answer();
      }
      return url in reads
        ? Response.json(await reads[url])
        : Response.json({ code: 'not-found', detail: `nothing at ${url}` }, { status: 404 });
    }),
  );
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <ActsProvider>
        <MemoryRouter initialEntries={[path]}>
          <Routes>
            <Route path={route} element={page} />
          </Routes>
        </MemoryRouter>
      </ActsProvider>
    </QueryClientProvider>,
  );
  return { user: userEvent.setup(), asked, stand };
}

/** A refusal as the server words it. */
export function refusal(errors: { path: string; message: string }[], detail = errors[0]?.message ?? ''): Response {
  return new Response(JSON.stringify({ type: 'x', title: 'x', status: 400, code: 'invalid-request', detail, errors }), {
    status: 400,
    headers: { 'content-type': 'application/problem+json' },
  });
}
