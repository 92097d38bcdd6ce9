import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, expect, it, vi } from 'vitest';
import { LogFilters } from './log-filters.tsx';

afterEach(() => vi.unstubAllGlobals());

it('words typed while those before are on their way into the address are kept; the way back brings back others', async () => {
  vi.stubGlobal('fetch', () => Promise.resolve(Response.json({ pots: [], places: [], batches: [] })));
  const change = vi.fn();
  const client = new QueryClient();
  const page = (words: string | undefined) => (
    <QueryClientProvider client={client}>
      <LogFilters
        filter={words === undefined ? {} : { words }}
        narrowed={false}
        change={change}
        clear={() => undefined}
      />
    </QueryClientProvider>
  );
  const { rerender } = render(page(undefined));
  const user = userEvent.setup();
  const field = screen.getByRole('searchbox');
  await user.type(field, 'crust');
  await waitFor(() => expect(change).toHaveBeenCalledWith({ words: 'crust' }));
  await user.type(field, ' R-07');
  await waitFor(() => expect(change).toHaveBeenLastCalledWith({ words: 'crust R-07' }));
  // The address comes late.
  rerender(page('crust'));
  expect(field).toHaveValue('crust R-07');
  rerender(page('crust R-07'));
  expect(field).toHaveValue('crust R-07');
  rerender(page('crust'));
  expect(field).toHaveValue('crust');
  rerender(page(undefined));
  expect(field).toHaveValue('');
  expect(change).toHaveBeenCalledTimes(2);
});
