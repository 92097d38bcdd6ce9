import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter, Route, Routes } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { PotListItem, PotsView, PotView, PotVisit } from '../../contract/pots.ts';
import { ActsProvider } from '../shell/acts.tsx';
import { PotPage, PotsPage } from './index.ts';
import { NOTHING_READ } from './pots-fixtures.ts';
import { VisitChart } from './visit-chart.tsx';
import { VisitTable } from './visit-table.tsx';
import { lookFromSeen, NOTHING_SEEN } from '../../contract/seen.ts';
import { FIRST_REGIMEN } from './regimen-texts.ts';

const item: PotListItem = {
  id: 'p7',
  code: 'R-07',
  name: 'Coelogyne',
  plant: 'Coelogyne',
  spot: '',
  sensitivity: 'usual',
  regimenId: 'r1',
  clay: 'batch 3',
  reservoirMl: 260,
  regimen: 'Dilute 90, weekly',
  due: { dueOn: '2026-11-23', status: 'late', daysLate: 2, pastLimit: 0, words: '2 d late' },
  drawing: {
    level: 0.1,
    levelIsGuess: false,
    ratio: 2.1,
    ph: 6.9,
    phLow: 5.5,
    phHigh: 6.5,
    salts: 2,
    stage: 'growth',
    form: 'clay',
  },
  lastPouredPpm: 104,
  lastCameOut: { ppm: 218, ph: 6.8, on: '2026-11-16' },
  stand: {
    ran: { ratio: 2.1, pouredPpm: 104, cameOutPpm: 218, on: '2026-11-16' },
    phs: [
      { on: '2026-11-09', ph: 6.6 },
      { on: '2026-11-16', ph: 6.8 },
    ],
    dryInDays: 1,
    leftMl: 40,
    signs: ['salting', 'crust'],
    trouble: 13,
  },
  soaksOpen: [],
  oddLines: 0,
};
const visit = (on: string, more: Partial<PotVisit> = {}): PotVisit => ({
  eventId: `v${on}`,
  kind: 'filled',
  at: `${on}T09:00:00Z`,
  on,
  time: '09:00',
  pouredPpm: 104,
  pouredPh: 5.6,
  pouredMl: 250,
  flushMl: 780,
  cameOutPpm: { kind: 'value', value: 180 },
  cameOutPh: { kind: 'value', value: 6.8 },
  cameOutPpmOnScale: 180,
  leftMl: 60,
  tainted: [],
  look: NOTHING_SEEN,
  supplement: null,
  words: 'Flushed 780 mL, filled 250 mL',
  was: null,
  batchId: 'b',
  ...more,
});
const view: PotView = {
  today: '2026-11-25',
  pot: { ...item, place: 'East sill', placeNote: 'bright', retiredOn: null, became: '' },
  values: {
    code: 'R-07',
    plant: 'Coelogyne',
    name: '',
    placeId: 'a',
    spot: '',
    medium: 'clay',
    stage: 'growth',
    clay: 'batch 3',
    clayL: 1.3,
    brimMl: 680,
    reservoirMl: 260,
    fillMl: 250,
    heightCm: null,
    habit: null,
    sensitivity: 'usual',
    grows: 'orchid',
    origin: '',
    acquiredOn: null,
    repottedOn: null,
    note: '',
  },
  nextRegimens: [],
  earlierRegimens: [],
  regimen: {
    name: 'Dilute 90, weekly',
    words: '90 over base, every 7 days, flush first',
    since: '2025-11-26',
    reason: 'suits it',
  },
  aim: { netPpm: 90, lowPpm: 90, highPpm: 117, basePpm: 9 },
  phWindow: { low: 5.5, high: 6.5 },
  visits: [
    visit('2026-10-26', {
      cameOutPpm: { kind: 'notMeasured' },
      cameOutPh: { kind: 'notMeasured' },
      cameOutPpmOnScale: null,
      look: null,
    }),
    visit('2026-11-02', { cameOutPpm: { kind: 'overRange' }, cameOutPpmOnScale: null }),
    visit('2026-11-09', { cameOutPh: { kind: 'range', low: 6.5, high: 7 }, look: lookFromSeen(['crust', 'tips']) }),
    visit('2026-11-16', { pouredPpm: null, pouredPh: null, batchId: null }),
    visit('2026-11-20', {
      kind: 'skipped',
      words: 'Skipped: out on loan',
      pouredPpm: null,
      pouredPh: null,
      cameOutPpm: { kind: 'notMeasured' },
      cameOutPh: { kind: 'notMeasured' },
      cameOutPpmOnScale: null,
      look: null,
    }),
  ],
  coming: [{ on: '2026-11-30', words: 'feed 90', soaks: ['magnesium soak, 100 ppm'], because: [] }],
  looks: [{ eventId: 'l1', on: '2026-11-09', look: lookFromSeen(['crust', 'tips']) }],
  measures: [],
  photos: [],
  lastMix: null,
  neighbours: { before: { id: 'p6', code: 'R-06' }, after: null },
};

function open(path: string, body: PotsView | PotView) {
  vi.stubGlobal(
    'fetch',
    vi.fn(async (url: string) =>
      url.startsWith('/api/drift') || url.startsWith('/api/advice')
        ? Response.json({ code: 'not-found', detail: '' }, { status: 404 })
        : Response.json(body),
    ),
  );
  render(
    <QueryClientProvider client={new QueryClient()}>
      <ActsProvider>
        <MemoryRouter initialEntries={[path]}>
          <Routes>
            <Route path="/pots" element={<PotsPage />} />
            <Route path="/pots/:potId" element={<PotPage />} />
          </Routes>
        </MemoryRouter>
      </ActsProvider>
    </QueryClientProvider>,
  );
  return userEvent.setup();
}
afterEach(() => vi.unstubAllGlobals());

describe('the collection', () => {
  const pots: PotsView = {
    today: '2026-11-25',
    regimens: [
      {
        id: 'r1',
        values: FIRST_REGIMEN,
        words: '90 over base, every 7 days, flush first',
        pots: 2,
      },
    ],
    retired: [{ id: 'p9', code: 'R-09', name: 'Ficus', on: '2026-10-01', became: 'given away' }],
    places: [
      {
        id: 'e',
        name: 'East sill',
        note: 'bright',
        light: 'bright',
        year: null,
        pots: [
          item,
          { ...item, id: 'p8', code: 'R-08', name: 'Hoya', lastCameOut: null, lastPouredPpm: null, ...NOTHING_READ },
        ],
      },
    ],
  };
  it('finds pots by any words, keeps fast typing, and says when there is none', async () => {
    const user = open('/pots?view=shelves', pots);
    const field = await screen.findByLabelText(/Find a pot/);
    await user.type(field, 'east hoya');
    expect(field).toHaveValue('east hoya');
    expect(screen.queryByRole('button', { name: /^R-07/ })).not.toBeInTheDocument();
    expect(screen.getByRole('button', { name: /R-08 Hoya/ })).toBeInTheDocument();
    await user.type(field, ' zzz');
    await user.click(screen.getByRole('button', { name: 'Show all 2' }));
    expect(screen.getByRole('button', { name: /^R-07/ })).toBeInTheDocument();
  });
  it('as a table says what was poured and came out, or that it was never read', async () => {
    // jsdom lays nothing out, and only rows in sight are drawn: give the table a height.
    vi.spyOn(Element.prototype, 'clientHeight', 'get').mockReturnValue(600);
    open('/pots?view=table', pots);
    const row = (await screen.findByRole('link', { name: 'R-07 Coelogyne' })).closest<HTMLElement>('[role=row]')!;
    expect(row).toHaveTextContent('104 → 218 ppm');
    expect(row).toHaveTextContent('salting up');
    expect(row).toHaveTextContent('tomorrow40 mL left');
    expect(within(row).getByText('6.8')).toHaveClass('late');
    expect(within(row).getByText('2 d late')).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'R-08 Hoya' }).closest('[role=row]')).toHaveTextContent('2 d late———');
  });
  it('as a map shows who stands where, who could not be shown, and when they run dry; the counts narrow it', async () => {
    const user = open('/pots', pots);
    expect(
      await screen.findByRole('button', {
        name: 'R-07 Coelogyne, old reservoir 2.1 times the pour, at pH 6.8, salting up, crust, 2 d late',
      }),
    ).toHaveAttribute('aria-pressed', 'false');
    expect(screen.getByRole('group', { name: /Pots down to 15 % by day: Wed 0, Thu 1, Fri 0/ })).toBeInTheDocument();
    expect(screen.getByText(/1 not forecast/)).toBeInTheDocument();
    screen.getByRole('button', { name: /^R-07 Coelogyne, old reservoir/ }).focus();
    await user.keyboard('x');
    expect(screen.getByRole('region', { name: 'Chosen pots' })).toHaveTextContent('1 pot chosenR-07');
    expect(screen.getByRole('button', { name: /Thirsty/ })).toHaveTextContent('Thirsty R-071');
    await user.click(screen.getByRole('button', { name: /Salting up/ }));
    expect(screen.getByText(/1 found/)).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: /Drifting/ }));
    expect(screen.getByText('No pot answers to that')).toBeInTheDocument();
  });
  it('in the table the keys work from the box that chose a pot, and not while something is typed', async () => {
    const user = open('/pots?view=table', pots);
    await user.click(await screen.findByRole('checkbox', { name: 'Choose R-07' }));
    await user.type(screen.getByRole('searchbox'), 'mg');
    expect(screen.queryByRole('dialog')).toBeNull();
    await user.clear(screen.getByRole('searchbox'));
    screen.getByRole('checkbox', { name: 'Choose R-07' }).focus();
    await user.keyboard('m');
    expect(await screen.findByRole('dialog')).toHaveTextContent(/R-07/);
  });
  it('a soak is asked for, with who is not in season for it', async () => {
    const user = open('/pots', pots);
    (await screen.findByRole('button', { name: /^R-07 Coelogyne, old reservoir/ })).focus();
    await user.keyboard('x');
    await user.click(screen.getByRole('button', { name: /Add a soak/ }));
    expect(await screen.findByRole('dialog')).toHaveTextContent(/R-07: not in season for it/);
  });
  it('an empty collection says so', async () => {
    open('/pots', { today: '2026-11-25', places: [], regimens: [], retired: [] });
    expect(await screen.findByText('No pots yet')).toBeInTheDocument();
  });
});

describe('a pot’s page', () => {
  it('stands with its regimen, its last reading and its log, newest first', async () => {
    open('/pots/p7', view);
    expect(await screen.findByRole('heading', { name: 'Coelogyne, east sill' })).toBeInTheDocument();
    expect(screen.getByText('90 over base, every 7 days, flush first')).toBeInTheDocument();
    expect(screen.getByText('218 ppm, pH 6.8')).toBeInTheDocument();
    const lines = within(screen.getByRole('region', { name: 'Log of this pot' })).getAllByRole('listitem');
    expect(lines[0]).toHaveTextContent(/Fri 20 NovSkipped: out on loan/);
    expect(lines.at(-1)).toHaveTextContent('not measured');
  });
  it('switches between chart and table', async () => {
    const user = open('/pots/p7', view);
    await user.click(await screen.findByRole('button', { name: 'Table' }));
    const columns = () => screen.queryByRole('columnheader', { name: 'Poured, ppm' });
    expect(columns()).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Chart' }));
    expect(columns()).not.toBeInTheDocument();
  });
});

describe('the visits', () => {
  it('the chart leaves a gap where nothing was read, and never draws it as zero', () => {
    const { container } = render(<VisitChart view={view} weeks={10} ahead={undefined} />);
    const cameOut = [...container.querySelectorAll('path[stroke="#a24e2c"]')].map((p) => p.getAttribute('d') ?? '');
    // Two readings in a row make one stroke; the unread visits before them none.
    expect(cameOut[0]!.match(/M/g)).toHaveLength(1);
    expect(cameOut.join('')).not.toMatch(/NaN/);
    expect(container.querySelector('figcaption')).toHaveTextContent('4 fillings, the old reservoir read at 2 of them');
  });
  it('the table says what each reading was: a figure, a range, over range, not measured', () => {
    render(<VisitTable view={view} weeks={10} />);
    const row = (day: string) => screen.getByRole('rowheader', { name: day }).closest('tr')!;
    expect(row('Mon 26 Oct')).toHaveTextContent(/not measurednot measured/);
    expect(row('Mon 2 Nov')).toHaveTextContent('over range');
    expect(row('Mon 9 Nov')).toHaveTextContent('6.5 to 7.0');
    expect(row('Mon 9 Nov')).toHaveTextContent('leaf tips brown, crust some');
    expect(row('Mon 16 Nov')).toHaveTextContent('not measured');
    expect(row('Fri 20 Nov')).toHaveTextContent('Skipped: out on loan');
  });
});
