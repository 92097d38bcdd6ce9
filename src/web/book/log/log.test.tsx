import { screen, waitFor, within } from '@testing-library/react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { openPage, refusal } from '../../../../tests/component-page.tsx';
import type { BookEntry } from '../../../contract/book.ts';
import type { LogChoices, LogDays, LogEntry } from '../../../contract/log.ts';
import { BookPage } from '../book-page.tsx';
import { potsNamed } from './note-form.tsx';

beforeEach(() => {
  // jsdom lays nothing out: the list is given room to draw in.
  vi.spyOn(Element.prototype, 'clientHeight', 'get').mockReturnValue(600);
  vi.spyOn(Element.prototype, 'clientWidth', 'get').mockReturnValue(1000);
});

const line = (id: string, what: string, more: Partial<BookEntry> = {}): BookEntry => ({
  ...{
    id,
    kind: 'potFilled',
    at: '2026-11-24T09:01:00Z',
    on: '2026-11-24',
    time: '09:01',
    group: 'Round',
    where: 'R-01',
  },
  ...{
    what,
    was: null,
    correctable: false,
    corrected: false,
    readsPpm: 120,
    ph: 6.4,
    tainted: { ppm: false, ph: true },
  },
  ...{ potId: null, batchId: null, photoId: null, ahead: false, undone: false, undoable: true },
  ...more,
});
const round: LogEntry = {
  ...{
    key: 'round.2026-11-24',
    group: 'Round',
    time: '09:01',
    until: '09:40',
    where: '9 pots',
    what: 'Filled 9, left out 1',
  },
  ...{
    standsOut: ['crust ring: L-03'],
    readsPpm: null,
    ph: null,
    tainted: { ppm: false, ph: false },
    batchId: null,
    steps: 2,
    line: null,
  },
};
const days: LogDays = {
  days: [{ on: '2026-11-24', entries: [round] }],
  ...{ next: null, total: 2, since: '2026-11-24', today: '2026-11-25' },
};
const choices: LogChoices = {
  pots: [
    { id: 'p1', code: 'R-01', name: 'Cloud', retired: false },
    { id: 'p2', code: 'L-05', name: '', retired: false },
  ],
  places: [{ id: 'l1', name: 'East sill' }],
  batches: [],
};
const READS = {
  '/api/book/days': days,
  '/api/book/steps?key=round.2026-11-24': { steps: [line('a', 'Filled 250 mL'), line('b', 'Left out')] },
  '/api/book/choices': choices,
  '/api/book/found?words=crust': {
    entries: [line('a', 'saw crust')],
    next: null,
    total: 2,
    since: '2026-11-24',
    today: '2026-11-25',
  },
  '/api/book/found?words=crust&kind=Round': {
    entries: [],
    next: null,
    total: 2,
    since: '2026-11-24',
    today: '2026-11-25',
  },
};

describe('the log', () => {
  it('a round is one line that opens into its steps, by a press or by the keys, and its steps are taken back', async () => {
    const { user, asked } = openPage(<BookPage />, READS, '/book');
    const grid = await screen.findByRole('treegrid');
    expect(await within(grid).findByText('Filled 9, left out 1')).toBeVisible();
    expect(within(grid).getByText('crust ring: L-03')).toBeVisible();
    await user.click(within(grid).getByRole('button', { name: /Open the 2 steps/ }));
    expect(await within(grid).findByText('Filled 250 mL')).toBeVisible();
    grid.focus();
    await user.keyboard('{ArrowDown}{ArrowDown}u');
    await waitFor(() => expect(asked).toHaveLength(1));
    expect(asked[0]!.body).toMatchObject({ targetId: 'a' });
    await user.keyboard('{ArrowUp}{Enter}');
    expect(within(grid).queryByText('Filled 250 mL')).toBeNull();
  });
  it('whoever types keeps the field while the first search is on its way', async () => {
    const never = new Promise(() => undefined);
    const { user } = openPage(<BookPage />, { ...READS, '/api/book/found?words=crust': never }, '/book');
    const field = await screen.findByRole('searchbox');
    await user.type(field, 'crust');
    expect(await screen.findByText(/what you look for/)).toBeVisible();
    await user.keyboard(' R-07');
    expect(field).toHaveFocus();
    expect(field).toHaveValue('crust R-07');
  });
  it('is searched as one types, narrowed by kind, and says when nothing answers', async () => {
    const { user } = openPage(<BookPage />, READS, '/book');
    await user.type(await screen.findByRole('searchbox'), 'crust');
    expect(await screen.findByText('saw crust')).toBeVisible();
    await user.selectOptions(screen.getByRole('combobox', { name: 'Kind' }), 'Round');
    expect(await screen.findByText('No line answers to that')).toBeVisible();
    await user.click(screen.getAllByRole('button', { name: 'Show all' })[0]!);
    expect(await screen.findByText('Filled 9, left out 1')).toBeVisible();
    expect(screen.getByRole('searchbox')).toHaveValue('');
  });
});

describe('writing something down', () => {
  it('names pots by their codes, in any case; one there is none of is told, and nothing typed is lost', async () => {
    const { user, asked, stand } = openPage(<BookPage />, READS, '/book');
    await user.click(await screen.findByRole('button', { name: /Write something down/ }));
    await user.type(screen.getByLabelText('What was done'), 'Moved the lamps up');
    await user.type(screen.getByLabelText('Which pots'), 'r-01, X-77');
    await user.click(screen.getByRole('button', { name: 'Write it down' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('There is no pot X-77');
    expect(asked).toEqual([]);
    await user.clear(screen.getByLabelText('Which pots'));
    await user.type(screen.getByLabelText('Which pots'), 'r-01 l-05');
    stand.answer = () => refusal([{ path: 'on', message: 'That day has not come.' }]);
    await user.click(screen.getByRole('button', { name: 'Write it down' }));
    expect(await screen.findByText('That day has not come.')).toBeVisible();
    expect(asked[0]!.body).toMatchObject({
      words: 'Moved the lamps up',
      potIds: ['p1', 'p2'],
      on: '2026-11-25',
      image: null,
    });
    expect(screen.getByLabelText('What was done')).toHaveValue('Moved the lamps up');
  });
  it('codes are parted by commas or spaces', () => {
    expect(potsNamed(' R-01;l-05 ', choices.pots)).toEqual({ ids: ['p1', 'p2'], unknown: [] });
    expect(potsNamed('', choices.pots)).toEqual({ ids: [], unknown: [] });
  });
});
