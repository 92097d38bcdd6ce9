import { screen, waitFor } from '@testing-library/react';
import { expect, it } from 'vitest';
import { openPage } from '../../../tests/component-page.tsx';
import type { BringReport, BringState } from '../../contract/whole.ts';
import { reportWords } from './bring-in.tsx';
import { OutPage } from './out-page.tsx';

it('a table is saved as its figures are wanted; a decimal comma parts the columns by another mark', async () => {
  const { user } = openPage(<OutPage />, {});
  const address = () => screen.getAllByRole('link', { name: 'Save the table' })[0]!.getAttribute('href');
  expect(address()).toBe('/api/book/tables/fillings.csv?mark=point&separator=comma');
  await user.selectOptions(screen.getByLabelText('Decimal mark'), 'comma');
  expect(screen.getByLabelText('Between columns')).toHaveValue('semicolon');
  await user.selectOptions(screen.getByLabelText('Strength on the scale'), '0.64');
  expect(address()).toBe('/api/book/tables/fillings.csv?mark=comma&separator=semicolon&scale=0.64');
  await user.selectOptions(screen.getByLabelText('Between columns'), 'tab');
  expect(address()).toMatch(/separator=tab/);
});

const report: BringReport = {
  madeAt: '2026-11-24T09:00:00.000Z',
  tables: [
    { table: 'pot', comes: 40, here: 2, differs: 1 },
    { table: 'water', comes: 1, here: 0, differs: 0 },
    { table: 'bottle', comes: 2, here: 0, differs: 0 },
  ],
  lines: { comes: 5099, here: 0, odd: 0, since: '2025-12-02' },
  photos: { comes: 1, here: 0 },
  ...{ problems: [], moreProblems: 0 },
};
const state = (more: Partial<BringState>): BringState => ({
  ...{ id: 'b1', name: 'mine.json', state: 'reading', done: 0, report: null, words: null, backup: null },
  ...more,
});

it('what would come is told in a grower’s words', () => {
  expect(reportWords(report, 'comes')).toBe(
    '40 pots, 3 things on the Shelf, 5,099 lines of the log since 2 Dec 2025, 1 photo',
  );
  expect(reportWords(report, 'here')).toBe('2 pots');
});

it('a file is read, told, and only then brought in; where it cannot be, why, at its line', async () => {
  const reads: Record<string, unknown> = { '/api/book/bring/b1': state({ state: 'ready', report, done: 1 }) };
  const { user, asked, stand } = openPage(<OutPage />, reads);
  stand.answer = () => Response.json(state({}));
  await user.upload(screen.getByLabelText('The file to bring in'), new File(['{}'], 'mine.json'));
  expect(await screen.findByText(/Would come: 40 pots/)).toBeVisible();
  expect(screen.getByText(/1 record of those differs from the file: what stands here stays/)).toBeVisible();
  expect(asked.map(({ url }) => url)).toEqual(['/api/book/bring?name=mine.json']);
  const problem = { line: 7, what: 'pot', message: 'Another pot R-01 is here.' };
  const refused = state({ state: 'refused', report: { ...report, problems: [problem] } });
  stand.answer = () => Response.json(refused);
  await user.click(screen.getByRole('button', { name: 'Bring it in' }));
  await waitFor(() => expect(asked.at(-1)!.url).toBe('/api/book/bring/b1/keep'));
  expect(await screen.findByText('Line 7, pot: Another pot R-01 is here.')).toBeVisible();
});

it('a file the server does not know any more is said so, and not asked for for ever', async () => {
  const { user, stand } = openPage(<OutPage />, {});
  stand.answer = () => Response.json(state({ id: 'gone' }));
  await user.upload(screen.getByLabelText('The file to bring in'), new File(['{}'], 'mine.json'));
  expect(await screen.findByRole('alert')).toHaveTextContent('Try it again');
});
