import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { openPage } from '../../../tests/component-page.tsx';
import type { YearView } from '../../contract/season-pages.ts';
import type { KeepPlan, SeasonView } from '../../contract/season.ts';
import { PLAN_AIMS, Liver } from '../../core/plan/index.ts';
import { laneRows } from './lanes.ts';
import { AIMS, bestOfEach, betterPlan, plansAtOnce } from './make-plans.ts';
import { PrintWeeksPage } from './print-page.tsx';
import { SeasonPage } from './season-page.tsx';
import { SitterPage } from './sitter-page.tsx';
import { wouldHelp } from './spare-can.ts';
import { YearPage } from './year-page.tsx';

/* Where there is no worker the plans are made on the page itself, so that it can be tried here. */

type Lot = SeasonView['problem']['lots'][number];
const lot = (n: number, more: Partial<Lot> = {}): Lot => ({
  id: `lot${n}`,
  tray: `tray${n}`,
  potIds: [`${n}a`, `${n}b`],
  lastOn: -6,
  dueOn: 1 + n,
  turn: 0,
  feeds: [{ mix: 'feed', stillL: 1.5, buttL: 0, mixL: 1.2, everyDays: 7 }],
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
const thought = (minutes: number) => ({ minutes, from: 'thought' as const, of: 0, otherwise: minutes });
const LEARNED: SeasonView['learned'] = {
  minutes: { mix: thought(15), pot: thought(5), soakedPot: thought(9), leach: thought(20) },
  litres: null,
};
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
    benches: { feed: 'net=90&ph=6.0' },
    still: 'Still water',
    butt: null,
    learned: LEARNED,
    away: [],
    kept: null,
    unknown: [],
    ...more,
  };
}

afterEach(() => vi.unstubAllGlobals());
const CLAY = { now: '2026-11-25T09:00:00Z', batches: [], waters: [], scale: 0.5 };
const open = (view: SeasonView, reads: Record<string, unknown> = {}) => {
  const answers: Record<string, unknown> = { '/api/season': view, '/api/clay': CLAY, ...reads };
  return { ...openPage(<SeasonPage />, answers), answers };
};
const acts = async () => screen.findAllByRole('button', { name: /^Sill, Dilute 90, / });

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
    const { user, answers } = open(season([lot(0), lot(1)]));
    await screen.findByText(/· 4 pots/);
    // What this page did itself is fetched anew.
    answers['/api/season'] = season([lot(0), lot(1), lot(2), lot(3)]);
    await user.click(screen.getByRole('button', { name: 'Keep this plan' }));
    expect(await screen.findByText(/· 8 pots/)).toBeInTheDocument();
    expect(screen.getByRole('group', { name: /21 days from/ })).toBeInTheDocument();
  });
  it('without a tank or still water no litres are told, and without pots there is nothing to plan', async () => {
    const dry = lot(0, { feeds: [{ mix: 'feed', stillL: 0, buttL: 0, mixL: 1.2, everyDays: 7 }] });
    const view = season([dry], { still: null });
    open({ ...view, problem: { ...view.problem, tank: null } });
    await screen.findByRole('group', { name: /21 days from/ });
    expect(screen.queryByText(/still water/i)).toBeNull();
    expect(screen.queryByText(/in the tank/i)).toBeNull();
    cleanup();
    open(season([], { pots: 0 }));
    expect(await screen.findByText('Nothing to plan for yet')).toBeInTheDocument();
  });
});

describe('what a grower does to the plan', () => {
  const sent = (asked: { url: string; body: unknown }[]) =>
    asked.filter(({ url }) => url.startsWith('/api/season/plan/')).map(({ body }) => body as KeepPlan);

  it('is kept as it is shown, pot by pot, in calendar days', async () => {
    const { user, asked } = open(season([lot(0), lot(1)]));
    await user.click(await screen.findByRole('button', { name: 'Keep this plan' }));
    await waitFor(() => expect(sent(asked)).toHaveLength(1));
    const [body] = sent(asked);
    expect(body).toMatchObject({ basis: null, aim: 'nobodyLate', did: { kind: 'kept' } });
    expect(body!.pots.map(({ potId }) => potId)).toEqual(['0a', '0b', '1a', '1b']);
    for (const { visits, pins } of body!.pots) {
      expect(visits.length).toBeGreaterThanOrEqual(3);
      expect(visits[0]!.on >= '2026-11-25').toBe(true);
      expect(pins).toEqual([]);
    }
  });
  it('a watering taken with M, moved by the arrows and dropped is pinned to its day, and said', async () => {
    const { user, asked } = open(season([lot(0)]));
    const [first] = await acts();
    const day = first!.getAttribute('aria-label')!;
    first!.focus();
    await user.keyboard('m{ArrowRight}{ArrowRight}{Enter}');
    await waitFor(() => expect(sent(asked)).toHaveLength(1));
    const { did, pots } = sent(asked)[0]!;
    expect(did).toMatchObject({ kind: 'moved', what: 'Sill, Dilute 90', pots: 2 });
    const { to } = did as { to: string };
    expect(day).not.toContain(to);
    expect(pots[0]!.pins).toEqual([{ on: to, soak: null }]);
    expect(pots[0]!.visits.map(({ on }) => on)).toContain(to);
  });
  it('Escape leaves it where it was', async () => {
    const { user, asked } = open(season([lot(0)]));
    (await acts())[0]!.focus();
    await user.keyboard('m{ArrowRight}{Escape}');
    expect(sent(asked)).toHaveLength(0);
  });
  it('not on that day: it is planned for another', async () => {
    const { user, asked } = open(season([lot(0)]));
    (await acts())[0]!.focus();
    await user.keyboard('{Enter}');
    await user.click(screen.getByRole('button', { name: 'Not that day' }));
    await waitFor(() => expect(sent(asked)).toHaveLength(1));
    const { did, pots } = sent(asked)[0]!;
    const { on } = did as { on: string };
    expect(did).toMatchObject({ kind: 'notThatDay' });
    expect(pots[0]!.nots).toEqual([on]);
    expect(pots[0]!.visits.map((visit) => visit.on)).not.toContain(on);
  });
  it('says what has become of a plan that stands, and keeps it mended', async () => {
    const stood = { madeAt: '2026-11-24T09:00:00.000Z', madeOn: '2026-11-24', aim: 'nobodyLate' as const };
    // It stood on days the pots are too early for by now.
    const view = season([lot(0, { lastOn: -1, dueOn: 6 })], {
      kept: { ...stood, visits: [[0, 7, 14]], soaks: [[]], clay: {}, behind: ['P-0a'] },
    });
    const { user, asked } = open(view);
    const card = within(await screen.findByRole('region', { name: 'Whether it is kept' }));
    expect(card.getByText(/Life went otherwise/)).toBeInTheDocument();
    expect(card.getByText(/Planned before today and not done: P-0a/)).toBeInTheDocument();
    await user.click(card.getByRole('button', { name: 'Keep it mended' }));
    await waitFor(() => expect(sent(asked)).toHaveLength(1));
    expect(sent(asked)[0]).toMatchObject({ basis: stood.madeAt, did: { kind: 'mended' } });
  });
  it('days away are asked for in order, with what is wrong at its field', async () => {
    const { user, asked } = open(season([lot(0)]));
    await user.click(await screen.findByRole('button', { name: 'I am away …' }));
    await user.click(screen.getByRole('button', { name: 'Plan round them' }));
    expect(screen.getByText('Choose the first day you are away.')).toBeInTheDocument();
    fireEvent.change(screen.getByLabelText('First day away'), { target: { value: '2026-12-01' } });
    fireEvent.change(screen.getByLabelText('Last day away'), { target: { value: '2026-12-09' } });
    await user.click(screen.getByRole('button', { name: 'Plan round them' }));
    await waitFor(() => expect(asked.some(({ url }) => url.startsWith('/api/season/acts/'))).toBe(true));
    expect(asked[0]!.body).toMatchObject({ kind: 'away', fromDate: '2026-12-01', untilDate: '2026-12-09' });
  });
});

describe('minutes, the spare can, the paper and the year', () => {
  it('minutes a day are typed, refused where they cannot be, and planned with', async () => {
    const { user, asked } = open(season([lot(0)]));
    await user.type(await screen.findByLabelText('Minutes there are on a day'), '2000');
    await user.click(screen.getByRole('button', { name: 'Plan with them' }));
    expect(screen.getByText(/Give the minutes there are on a day/)).toBeInTheDocument();
    await user.clear(screen.getByLabelText('Minutes there are on a day'));
    await user.type(screen.getByLabelText('Minutes there are on a day'), '45');
    await user.click(screen.getByRole('button', { name: 'Plan with them' }));
    await waitFor(() => expect(asked.length).toBe(1));
    expect(asked[0]!.body).toMatchObject({ minutesADay: 45, did: { kind: 'minutes', minutes: 45 } });
  });
  it('a spare can is said to help only after planning again with it', () => {
    const thirsty = (n: number) =>
      lot(n, { dueOn: 2, feeds: [{ mix: 'feed', stillL: 6, buttL: 0, mixL: 5, everyDays: 21 }] });
    const view = season([thirsty(0), thirsty(1)]);
    // Two litres a day into a tank of seven: two lots of six on one day want twelve.
    const tank = { startL: 7, capL: 7, madeL: Array.from({ length: DAYS }, () => 5) };
    const problem = { ...view.problem, tank };
    const { plan } = betterPlan(problem, 'nobodyLate', plansAtOnce(problem).nobodyLate.plan, undefined, 3000);
    expect(wouldHelp(problem, plan, 'nobodyLate')).toMatch(/^(Yes|No)/);
    const enough = { ...problem, tank: { ...tank, startL: 0, capL: 7, madeL: Array.from({ length: DAYS }, () => 0) } };
    const dry = betterPlan(enough, 'nobodyLate', plansAtOnce(enough).nobodyLate.plan, undefined, 3000).plan;
    // Nothing is made: a larger tank holds no more.
    expect(wouldHelp(enough, dry, 'nobodyLate')).toMatch(/^No/);
  });
  it('the sitter’s sheet in plain words, each visit with its mark on the shelf', async () => {
    const drawing = {
      level: 0.5,
      levelIsGuess: false,
      phLow: 5.5,
      phHigh: 6.5,
      salts: 0,
      stage: 'growth',
      form: 'clay',
    };
    const sheet = {
      ...{
        collection: 'My plants',
        fromDate: '2026-11-28',
        untilDate: '2026-12-06',
        water: 'Still water',
        lamps: true,
      },
      before: [{ id: 'a', code: 'R-01', name: 'Hoya', ml: 40 }],
      visits: [
        { on: '2026-12-01', minutes: 6, litres: 0.25, pots: [{ id: 'b', code: 'R-02', name: 'Basil', ml: 250 }] },
      ],
      places: [
        {
          name: 'Sill',
          note: '',
          pots: [
            { id: 'a', code: 'R-01', drawing },
            { id: 'b', code: 'R-02', drawing },
          ],
        },
      ],
      back: [{ id: 'b', code: 'R-02', share: 0.2 }],
      guessed: ['R-01'],
    };
    openPage(<SitterPage />, { '/api/season/sitter/away': sheet }, '/season/sitter/away', '/season/sitter/:awayId');
    const visit = within(await screen.findByRole('region', { name: 'Tue 1 Dec' }));
    expect(visit.getByText('R-02')).toBeInTheDocument();
    expect(visit.getByText('250 mL')).toBeInTheDocument();
    expect(screen.getByText(/One visit, plain water only/)).toBeInTheDocument();
    expect(screen.getByText(/switch off lamps/)).toBeInTheDocument();
    expect(screen.getByText(/fill up with plain water R-01 \(40 mL\)/)).toBeInTheDocument();
    expect(screen.getByText(/What R-01 drink a day is only thought/)).toBeInTheDocument();
  });
  it('two weeks on paper, only of a plan that is kept', async () => {
    openPage(<PrintWeeksPage />, { '/api/season': season([lot(0)]), '/api/clay': CLAY });
    expect(await screen.findByText('No plan is kept')).toBeInTheDocument();
    cleanup();
    const kept = { madeAt: '2026-11-24T09:00:00.000Z', madeOn: '2026-11-24', aim: 'nobodyLate' as const };
    const view = season([lot(0)], { kept: { ...kept, visits: [[1, 8]], soaks: [[]], clay: {}, behind: [] } });
    openPage(<PrintWeeksPage />, { '/api/season': view, '/api/clay': CLAY });
    expect(await screen.findByText(/plan kept on/)).toBeInTheDocument();
    expect(screen.getAllByText(/To mix: Feed, 90 over base/)).toHaveLength(2);
  });
  it('the year: what was done stands in its month, a month that wants more than is made is marked', async () => {
    const months = Array.from({ length: 12 }, (_, n) => `2026-${String(n + 1).padStart(2, '0')}`);
    const each = (n: number) => months.map(() => n);
    const view: YearView = {
      ...{ months, now: 3 },
      rows: [{ place: 'Sill', what: 'magnesium soak', due: months.map((_, n) => n > 2), done: each(0).with(4, 7) }],
      still: { waterings: each(30), soaks: each(5), made: each(20), costPerL: null },
      on: '2026-11-25',
      strengths: [],
      parts: [],
      bottles: [{ name: 'House feed', leftMl: 90, perMonthMl: 47, emptyOn: '2026-06-01', costPerMonth: 1.7 }],
    };
    openPage(<YearPage />, { '/api/season/year': view });
    const soak = await screen.findByRole('row', { name: /Sill magnesium soak/ });
    expect(within(soak).getByText('7')).toBeInTheDocument();
    expect(screen.getAllByText('20 L')[0]).toHaveClass('short');
    expect(screen.getByText('1 Jun 2026')).toBeInTheDocument();
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
