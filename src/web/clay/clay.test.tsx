import { screen, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { ClayBatchView, ClayRoom, UnleachedPot } from '../../contract/clay.ts';
import type { ShellView } from '../../contract/shell.ts';
import { CLAY_AT_LARGE } from '../../core/clay/index.ts';
import { openPage, refusal } from '../../../tests/component-page.tsx';
import { setUnits } from '../shell/format.ts';
import { ClayPage } from './index.ts';

const NOW = '2026-11-25T09:00:00.000Z';
const hoursAgo = (h: number) => new Date(Date.parse(NOW) - h * 3_600_000).toISOString();
const line = (
  kind: 'filled' | 'read',
  hours: number,
  words: string,
  ppm: number | null,
): ClayBatchView['log'][number] => ({
  eventId: `${kind}-${hours}`,
  kind,
  at: hoursAgo(hours),
  on: '2026-11-23',
  time: '09:00',
  atHours: 48 - hours,
  words,
  ppm,
  ph: null,
  tainted: false,
  undoable: kind === 'read',
  correctable: true,
});
const aBatch = (more: Partial<ClayBatchView> = {}): ClayBatchView => ({
  id: '00000000-0000-4000-8000-000000000005',
  values: {
    name: 'batch 5',
    grainLowMm: 8,
    grainHighMm: 16,
    volumeL: 6,
    origin: '',
    price: null,
    openedOn: '2026-11-23',
    prep: 'new',
    gatePpm: 40,
    coverL: null,
    lookEveryHours: 24,
    way: 'own',
    note: '',
  },
  rinsedOn: '2026-11-23',
  boiledOn: null,
  retiredOn: null,
  state: 'soaking',
  ready: false,
  why: 'Not ready.',
  usedL: 0,
  leftL: 6,
  pots: [],
  leach: {
    startedAt: hoursAgo(48),
    drainedAt: null,
    waterId: '00000000-0000-4000-8000-0000000000aa',
    waterL: 5,
    lastFilledAt: hoursAgo(48),
    changes: 0,
    basePpm: 9,
    history: { clayL: 6, firstL: 5, acts: [{ kind: 'reading', atHours: 24, netPpm: 160 }] },
  },
  prior: { mean: [...CLAY_AT_LARGE.mean], covariance: CLAY_AT_LARGE.covariance.map((row) => [...row]) },
  ownBags: 0,
  told: [],
  card: null,
  flatPpm: { mean: 170, low: 160, high: 180 },
  lastReadPpm: 169,
  lastPh: null,
  driedOn: null,
  log: [line('read', 24, 'Read', 169), line('filled', 48, 'First water, 5 L', null)],
  ...more,
});
const spread = (mean: number) => ({ mean, low: mean * 0.8, high: mean * 1.25 });
const aPot = (more: Partial<UnleachedPot> = {}): UnleachedPot => ({
  potId: '00000000-0000-4000-8000-0000000000b1',
  code: 'L-03',
  name: 'Dendrochilum',
  place: 'Long shelf',
  clay: 'batch 3',
  drawing: { level: 0.3, levelIsGuess: false, phLow: 5.5, phHigh: 6.5, salts: 2, stage: 'rest', form: 'clay' },
  sensitivity: 'usual',
  waterL: 0.47,
  dueOn: '2026-11-26',
  checked: { on: '2026-11-15', topPpm: 103, holePpm: 88 },
  held: [],
  bars: [103, 70, 48, 40].map(spread),
  passPpm: 61,
  feedPpm: 21,
  verdict: { kind: 'hold', holds: 2, litres: 0.94 },
  evidence: 'Stands in batch 3, never leached.',
  flushAgainstHold: { flushL: 0.54, flush: 0.03, hold: 0.26 },
  planned: [],
  ...more,
});
const aRoom = (more: Partial<ClayRoom> = {}): ClayRoom => ({
  now: NOW,
  today: '2026-11-25',
  scale: 0.5,
  batches: [aBatch()],
  waters: [
    {
      id: '00000000-0000-4000-8000-0000000000aa',
      name: 'Still water',
      kind: 'still',
      basePpm: 9,
      stillNowL: 14,
      perDayL: 9,
    },
    {
      id: '00000000-0000-4000-8000-0000000000ab',
      name: 'Kitchen tap',
      kind: 'tap',
      basePpm: 212,
      stillNowL: null,
      perDayL: null,
    },
  ],
  ppmMeter: { id: '00000000-0000-4000-8000-0000000000c1', name: 'Blue pen', simulated: false },
  phMeter: null,
  holds: [],
  unleached: [],
  named: [],
  poured: ['the bean bed'],
  ...more,
});
const shell: ShellView = {
  mode: 'own',
  collection: 'Mine',
  now: NOW,
  today: '2026-11-25',
  zone: 'Europe/London',
  units: 'metric',
  currency: '',
  pots: 3,
  shelf: 4,
  scale: 0.5,
  version: 'x',
  clocks: [],
  trouble: null,
  shut: false,
  reckoning: null,
  ahead: null,
};
const open = (room: ClayRoom = aRoom(), path = '/clay') =>
  openPage(<ClayPage />, { '/api/clay': room, '/api/shell': shell }, path);
const conflict = (code: string, detail: string) =>
  new Response(JSON.stringify({ type: 'x', title: 'x', status: 409, code, detail }), {
    status: 409,
    headers: { 'content-type': 'application/problem+json' },
  });

beforeEach(() => sessionStorage.clear());
afterEach(() => {
  vi.unstubAllGlobals();
  setUnits('metric');
});

describe('a batch that soaks', () => {
  it('says the next act, the forecast and the three ways', async () => {
    open();
    expect(await screen.findByText('Read it, then change')).toBeInTheDocument();
    expect(screen.getByRole('img', { name: /Ready in \d more changes?, about/ })).toBeInTheDocument();
    const ways = await screen.findByRole('table', { name: /Ways to reach 30/ });
    expect(within(ways).getAllByRole('row')).toHaveLength(4);
    expect(within(ways).getByRole('radio', { name: /Yours so far/ })).toBeChecked();
  });
  it('keeps a reading with Enter; an odd one is kept when it is entered twice', async () => {
    const { user, asked, stand } = open();
    const field = await screen.findByRole('textbox', { name: 'pen reads, ppm' });
    await user.type(field, '97,x{Enter}');
    expect(await screen.findByRole('alert')).toHaveTextContent(/Type the figure on the pen/);
    await user.clear(field);
    stand.answer = () => conflict('reading-odd', '400 is far from the 150 to 190 expected by now.');
    await user.type(field, '400{Enter}');
    expect(await screen.findByText(/far from the 150/)).toBeInTheDocument();
    expect(field).toHaveValue('400');
    stand.answer = () => Response.json({ eventId: 'e', repeated: false });
    await user.type(field, '{Enter}');
    expect(asked.map((a) => (a.body as { confirmedOdd: boolean }).confirmedOdd)).toEqual([false, true]);
  });
  it('asks once before a change of water that nobody read, and carries it out when it is wished', async () => {
    const { user, asked, stand } = open();
    stand.answer = () => conflict('not-read', 'This water was not read yet. Read it first, or change it all the same.');
    await user.click(await screen.findByRole('button', { name: /^Changed: / }));
    expect(await screen.findByText(/Read it first, or change it/)).toBeInTheDocument();
    stand.answer = () => Response.json({ eventId: 'e', repeated: false });
    await user.click(screen.getByRole('button', { name: 'Change it unread' }));
    expect(asked.at(-1)!.body).toMatchObject({ kind: 'fill', unread: true, to: 'the bean bed' });
  });
  it('takes what was truly poured, in the units the grower owns, and keeps what was typed when it is refused', async () => {
    const { user, asked, stand } = open();
    await user.click(await screen.findByRole('button', { name: 'it was otherwise' }));
    stand.answer = () =>
      refusal([
        { path: 'pouredOffL', message: 'There were 5 L in it, so 7 L cannot have come off. Check the figure.' },
      ]);
    await user.type(screen.getByRole('textbox', { name: 'Off, L' }), '7');
    await user.type(screen.getByRole('textbox', { name: 'Fresh on, L' }), '1 gal');
    await user.click(screen.getByRole('button', { name: /^Changed: / }));
    expect(await screen.findByText(/cannot have come off/)).toBeInTheDocument();
    expect(screen.getByRole('textbox', { name: 'Off, L' })).toHaveValue('7');
    expect((asked.at(-1)!.body as { freshL: number }).freshL).toBeCloseTo(3.785, 2);
    await user.selectOptions(screen.getByRole('combobox', { name: 'Of' }), 'Kitchen tap');
    expect(screen.getByText(/brings its own minerals \(212 ppm\)/)).toBeInTheDocument();
  });
  it('follows another way when it is chosen, and shows its log with every line to put right', async () => {
    const { user, asked } = open();
    await user.click(await screen.findByRole('radio', { name: /Fewest litres/ }));
    expect(asked.at(-1)!.body).toMatchObject({ kind: 'put', values: { way: 'litres' } });
    await user.click(screen.getByRole('button', { name: 'Log' }));
    const log = screen.getByRole('region', { name: 'Log of batch 5' });
    expect(within(log).getAllByText('foreseen, if changed as planned').length).toBeGreaterThan(0);
    expect(within(log).getAllByRole('button', { name: /Put right/ })).toHaveLength(2);
  });
});

describe('batches in other states', () => {
  it('a bag as it came is rinsed first, with the caution', async () => {
    const { user, asked } = open(
      aRoom({
        batches: [aBatch({ state: 'bag', leach: null, rinsedOn: null, log: [], flatPpm: null, lastReadPpm: null })],
      }),
    );
    expect(await screen.findByText(/do not breathe the dust/)).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'It runs clear' }));
    expect(asked.at(-1)!.body).toMatchObject({ kind: 'prep', step: 'rinsed', done: true });
  });
  it('a ready one leads to potting up, an empty room to the first bag', async () => {
    open(
      aRoom({
        batches: [
          aBatch({
            state: 'leached',
            ready: true,
            leach: null,
            log: [],
            values: { ...aBatch().values, prep: 'leached' },
          }),
        ],
      }),
    );
    expect(await screen.findByRole('link', { name: 'Pot up from it' })).toHaveAttribute(
      'href',
      expect.stringContaining('/clay/pot-up?clay='),
    );
  });
  it('nothing kept yet', async () => {
    const { user, asked, stand } = open(aRoom({ batches: [], named: [{ name: 'batch 9', pots: 2 }] }));
    expect(await screen.findByText(/Your pots name batch 9/)).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Open a new bag' }));
    stand.answer = () =>
      refusal([{ path: 'values.volumeL', message: 'A batch of no clay cannot be leached: give its litres.' }]);
    const dialog = screen.getByRole('dialog');
    await user.type(within(dialog).getByRole('textbox', { name: 'Clay in it, L' }), '0');
    await user.click(within(dialog).getByRole('button', { name: 'Add' }));
    expect(await within(dialog).findByRole('alert')).toHaveTextContent(/cannot be leached/);
    expect(asked.at(-1)!.body).toMatchObject({ kind: 'put', values: { name: 'batch 1', volumeL: 0 } });
  });
});

describe('pots whose clay was never leached', () => {
  it('shows what each hold would do, and puts the holds on the round', async () => {
    const { user, asked } = open(aRoom({ unleached: [aPot()] }));
    const card = await screen.findByRole('article', { name: 'L-03 Dendrochilum' });
    expect(card).toHaveTextContent(/Hold 1 h, twice/);
    expect(within(card).getByRole('img')).toHaveAccessibleName(
      /Top of the clay 103 ppm on 15 Nov; after each hold about 70, 48, 40; passes at 61/,
    );
    await user.click(within(card).getByRole('button', { name: /Put holds on the round/ }));
    await user.click(within(screen.getByRole('dialog')).getByRole('button', { name: 'Put on the round' }));
    expect(asked.at(-1)!.body).toMatchObject({
      kind: 'planHolds',
      onDate: '2026-11-26',
      plans: [{ words: expect.stringMatching(/^Hold 1 of 2/) as unknown }, {}],
    });
  });
  it('says why a flush is not a leach', async () => {
    const { user } = open(aRoom({ unleached: [aPot()] }));
    await user.click(await screen.findByRole('button', { name: 'Why not just flush?' }));
    expect(screen.getByText(/leaves with a flush of 540/)).toBeInTheDocument();
    expect(screen.getByText(/leaves with an hour’s hold of 470/)).toBeInTheDocument();
  });
  it('leads through a hold that runs: read at the top, then drained', async () => {
    const hold = {
      id: '00000000-0000-4000-8000-0000000000d1',
      potId: aPot().potId,
      code: 'L-03',
      name: 'Dendrochilum',
      purpose: 'leach' as const,
      startedAt: hoursAgo(1),
      endsAt: NOW,
      waterL: 0.47,
      water: 'Still water',
      topPpm: null,
      holePpm: null,
      reads: [],
      expectedTopPpm: spread(140),
    };
    const { user, asked } = open(aRoom({ unleached: [aPot()], holds: [hold] }), `/clay?hold=${aPot().potId}`);
    const dialog = await screen.findByRole('dialog');
    const top = within(dialog).getByRole('textbox', { name: 'top of the clay, ppm' });
    // The batch behind it is reckoned later: its own field must not take the keys from this one.
    await screen.findByRole('textbox', { name: 'pen reads, ppm', hidden: true });
    expect(top).toHaveFocus();
    await user.type(top, '131{Enter}');
    expect(asked.at(-1)!.body).toMatchObject({
      kind: 'readHold',
      where: 'top',
      reading: { kind: 'value', value: 131 },
    });
    await user.click(within(dialog).getByRole('button', { name: 'Drained' }));
    expect(asked.at(-1)!.body).toMatchObject({ kind: 'drainHold', holdId: hold.id });
  });
});
