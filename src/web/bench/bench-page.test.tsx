import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { BatchListItem, BenchList } from '../../contract/bench-list.ts';
import { ActsProvider } from '../shell/acts.tsx';
import { BenchPage } from './bench-page.tsx';

const item = (id: string, more: Partial<BatchListItem>): BatchListItem => ({
  id,
  name: `Feed ${id}`,
  use: 'feed',
  status: 'poured',
  startedOn: '2026-11-25',
  time: '09:00',
  openDays: 0,
  volumeL: 1,
  leftMl: 150,
  keepsUntil: '2026-12-02',
  readsPpm: 105,
  ph: null,
  mixKey: null,
  ...more,
});

afterEach(() => vi.restoreAllMocks());

function show(list: BenchList) {
  const sent: { url: string; body: unknown }[] = [];
  const reply = (body: unknown) =>
    new Response(JSON.stringify(body), { headers: { 'content-type': 'application/json' } });
  vi.spyOn(globalThis, 'fetch').mockImplementation((url, init) => {
    const at = url instanceof Request ? url.url : url.toString();
    if (init?.method === 'PUT') {
      const body = JSON.parse(init.body as string) as { leftovers: { eventId: string }[] };
      sent.push({ url: at, body });
      return Promise.resolve(reply({ loggedIds: body.leftovers.map((l) => l.eventId), already: [], repeated: false }));
    }
    if (at.endsWith('/api/shell')) return Promise.resolve(reply({ today: '2026-11-25' }));
    return Promise.resolve(at.endsWith('/api/round') ? reply({ mixes: [] }) : reply(list));
  });
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <MemoryRouter>
        <ActsProvider>
          <BenchPage />
        </ActsProvider>
      </MemoryRouter>
    </QueryClientProvider>,
  );
  return sent;
}

describe('what is left over', () => {
  const old = (id: string) => item(id, { startedOn: '2026-10-01', keepsUntil: '2026-10-08' });
  it('past its day is one line once it is many, and gone with one press', async () => {
    const sent = show({
      batches: [item('a', {}), old('b'), old('c')],
      pastDay: { ids: ['b', 'c', 'd'], ml: 450, sinceOn: '2025-09-30' },
    });
    const left = within(await screen.findByRole('region', { name: 'Left over' }));
    expect(left.getAllByRole('link').map((a) => a.textContent)).toEqual(['Feed a']);
    expect(left.getByText(/3 more past their day/)).toBeInTheDocument();
    expect(left.getByText(/the oldest of 30 Sept 2025/)).toBeInTheDocument();
    await userEvent.click(left.getByRole('button', { name: 'All poured out' }));
    await waitFor(() => expect(sent).toHaveLength(1));
    expect(sent[0]).toMatchObject({
      url: expect.stringContaining('/api/bench/leftovers/'),
      body: { leftovers: [{ batchId: 'b' }, { batchId: 'c' }, { batchId: 'd' }], to: '' },
    });
  });
  it('is told one by one while it is few', async () => {
    show({ batches: [item('a', {}), old('b')], pastDay: { ids: ['b'], ml: 150, sinceOn: '2026-10-01' } });
    const left = within(await screen.findByRole('region', { name: 'Left over' }));
    expect(left.getAllByRole('link').map((a) => a.textContent)).toEqual(['Feed a', 'Feed b']);
    expect(left.queryByRole('button', { name: 'All poured out' })).toBeNull();
  });
});
