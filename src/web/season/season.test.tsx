import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { SeasonView } from '../../contract/season.ts';
import { PLAN_AIMS, Liver } from '../../core/plan/index.ts';
import { laneRows } from './lanes.ts';
import { AIMS, bestOfEach, betterPlan, plansAtOnce } from './make-plans.ts';
import { SeasonPage } from './season-page.tsx';

/* Where there is no worker the plans are made on the page itself, so that it can be tried here. */

type Lot = SeasonView['problem']['lots'][number];
const lot = (n: number, more: Partial<Lot> = {}): Lot => ({
  id: `lot${n}`,
  tray: `tray${n}`,
  potIds: [`${n}a`, `${n}b`],
  lastOn: -6,
  dueOn: 1 + n,
  turn: 0,
  feeds: [{ mix: 'feed', stillL: 1.5, everyDays: 7 }],
  soonestDays: 5,
  latestDays: null,
  dryOn: null,
  dryDays: null,
  soaks: [],
  pinned: [],
  not: [],
  ...more,
});
const DAYS = 21;
function season(lots: Lot[], more: Partial<SeasonView> = {}): SeasonView {
  const ids = lots.flatMap((l) => l.potIds);
  return {
    on: '2026-11-25',
    pots: ids.length,
    problem: {
      days: DAYS,
      works: Array.from({ length: DAYS }, () => true),
      minutesADay: null,
      tank: { startL: 3, capL: 10, madeL: Array.from({ length: DAYS }, () => 1) },
      lots,
      leaches: [],
      fixed: [],
      minutes: { mix: 15, pot: 5, soakedPot: 9, leach: 20 },
    },
    lanes: [
      {
        ...{ id: 'sill', place: 'Sill', what: 'Dilute 90', kind: 'visit' },
        ...{ lots: lots.map((l) => l.id), mixes: [], months: [], closed: [] },
      },
      {
        ...{ id: 'soak', place: 'Sill', what: 'magnesium soak', kind: 'soak' },
        ...{ lots: lots.map((l) => l.id), mixes: ['mg'], months: [4, 5], closed: [{ from: 0, to: DAYS - 1 }] },
      },
    ],
    codes: Object.fromEntries(ids.map((id) => [id, `P-${id}`])),
    mixes: { feed: 'Feed, 90 over base' },
    still: 'Still water',
    away: [],
    kept: null,
    unknown: [],
    ...more,
  };
}

afterEach(() => vi.restoreAllMocks());
let served: SeasonView;
function open(view: SeasonView) {
  served = view;
  const json = (body: unknown) =>
    new Response(JSON.stringify(body), { headers: { 'content-type': 'application/json' } });
  vi.spyOn(globalThis, 'fetch').mockImplementation(() => Promise.resolve(json(served)));
  const client = new QueryClient();
  render(
    <QueryClientProvider client={client}>
      <MemoryRouter>
        <SeasonPage />
      </MemoryRouter>
    </QueryClientProvider>,
  );
  return { user: userEvent.setup(), client };
}

describe('the season', () => {
  it('draws the lanes, tells the day that is pressed, and is a table too', async () => {
    const { user } = open(season([lot(0), lot(1)]));
    const first = (await screen.findAllByRole('button', { name: /^Sill, Dilute 90, / }))[0]!;
    first.focus();
    await user.keyboard('{Enter}');
    const told = within(screen.getByRole('region', { name: 'The day chosen' }));
    expect(told.getByText(/P-0a, P-0b/)).toBeInTheDocument();
    expect(told.getByText(/To mix: Feed, 90 over base/)).toBeInTheDocument();
    expect(told.getByText(/Takes .*L of .*L, leaves/)).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Table' }));
    expect(within(screen.getByRole('table', { name: /Days with work/ })).getAllByRole('row').length).toBeGreaterThan(3);
  });
  it('goes on where the collection has changed meanwhile: an old plan is no answer to a new question', async () => {
    const { client } = open(season([lot(0), lot(1)]));
    await screen.findByText(/· 4 pots/);
    served = season([lot(0), lot(1), lot(2), lot(3)]);
    await client.invalidateQueries();
    expect(await screen.findByText(/· 8 pots/)).toBeInTheDocument();
    expect(screen.getByRole('group', { name: /21 days from/ })).toBeInTheDocument();
  });
  it('without a tank or still water no litres are told, and without pots there is nothing to plan', async () => {
    const dry = lot(0, { feeds: [{ mix: 'feed', stillL: 0, everyDays: 7 }] });
    const view = season([dry], { still: null });
    open({ ...view, problem: { ...view.problem, tank: null } });
    await screen.findByRole('group', { name: /21 days from/ });
    expect(screen.queryByText(/still water/i)).toBeNull();
    expect(screen.queryByText(/in the tank/i)).toBeNull();
    vi.restoreAllMocks();
    open(season([], { pots: 0 }));
    expect(await screen.findByText('Nothing to plan for yet')).toBeInTheDocument();
  });
});

describe('plans side by side', () => {
  it('each is the cheapest by its own weights of all that were found', () => {
    const { problem } = season([lot(0), lot(1), lot(2, { dueOn: -2 })]);
    const first = plansAtOnce(problem);
    const found = Object.fromEntries(
      AIMS.map((aim) => [aim, betterPlan(problem, aim, first[aim].plan, undefined, 2000)]),
    ) as typeof first;
    const best = bestOfEach(problem, found);
    const liver = new Liver(problem);
    for (const aim of AIMS)
      for (const other of AIMS)
        expect(liver.cost(best[aim].plan, PLAN_AIMS[aim])).toBeLessThanOrEqual(
          liver.cost(found[other].plan, PLAN_AIMS[aim]) + 1e-9,
        );
  });
  it('a lane holds each watering of its lots once, and each soak in its own lane', () => {
    const soaked = lot(0, {
      soaks: [{ mix: 'mg', what: 'magnesium', stillL: 2, from: 0, until: 20, apartDays: 21, pinned: false }],
    });
    const view = season([soaked, lot(1)]);
    const { plan } = plansAtOnce(view.problem).nobodyLate;
    const [visits, soaks] = laneRows(view, plan);
    const count = (row: typeof visits) => row!.days.reduce((sum, day) => sum + day.potIds.length, 0);
    expect(count(visits)).toBe(2 * plan.visits.flat().length);
    expect(count(soaks)).toBe(2 * plan.soaks.flat().filter((day) => day >= 0).length);
    expect(count(soaks)).toBe(2);
  });
});
