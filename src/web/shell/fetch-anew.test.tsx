import { QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query';
import { render, screen, waitFor } from '@testing-library/react';
import { expect, it } from 'vitest';
import { fetchAnew } from './fetch-anew.ts';

it('a first answer that was on its way when something was written is not taken for what came of it', async () => {
  const answers: ((words: string) => void)[] = [];
  function Words() {
    const { data } = useQuery({
      queryKey: ['words'],
      queryFn: () => new Promise<string>((resolve) => answers.push(resolve)),
    });
    return <p>{data ?? 'nothing yet'}</p>;
  }
  const client = new QueryClient();
  render(
    <QueryClientProvider client={client}>
      <Words />
    </QueryClientProvider>,
  );
  await waitFor(() => expect(answers).toHaveLength(1));
  const fresh = fetchAnew(client);
  await waitFor(() => expect(answers).toHaveLength(2));
  answers[0]!('as it was before');
  answers[1]!('as it is now');
  await fresh;
  expect(await screen.findByText('as it is now')).toBeVisible();
  expect(screen.queryByText('as it was before')).toBeNull();
});
