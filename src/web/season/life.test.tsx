import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { openPage } from '../../../tests/component-page.tsx';
import type { LookBack, YearView } from '../../contract/season-pages.ts';
import type { KeepPlan, SeasonView } from '../../contract/season.ts';
import { greedyPlan, Liver } from '../../core/plan/index.ts';
import { foretoldOf } from './foretold.ts';
import { LookBackPage, SeasonPage, YearPage } from './index.ts';
import { splitAct } from './split.ts';

/* The season as it is lived: some of a watering's pots parted, still water of a day, how long things take, the weeks gone by, and what wears. */

type Lot = SeasonView['problem']['lots'][number];
const DAYS = 14;
const POTS = ['a', 'b', 'c'];
const lot: Lot = {
  ...{ id: 'l', tray: 't', potIds: POTS, lastOn: -6, dueOn: 1, turn: 0, soonestDays: 4, latestDays: null },
  ...{ feeds: [{ mix: 'feed', stillL: 3, buttL: 1, mixL: 3.3, everyDays: 7 }], dryOn: null, dryDays: null },
  ...{ soaks: [], pinned: [], not: [] },
};
const work = (minutes: number, more: object = {}) => ({
  minutes,
  from: 'thought' as const,
  of: 0,
  otherwise: minutes,
  ...more,
});
const view: SeasonView = {
  ...{ on: '2026-11-25', pots: 3, still: 'Still water', unknown: [], away: [], kept: null },
  problem: {
    ...{ days: DAYS, works: Array.from({ length: DAYS }, () => true), minutesADay: null, leaches: [], fixed: [] },
    tank: { startL: 5, capL: 20, madeL: Array.from({ length: DAYS }, () => 2) },
    lots: [lot],
    minutes: { mix: 15, pot: 3, soakedPot: 9, leach: 20 },
  },
  lanes: [{ id: 'sill', place: 'Sill', what: 'Dilute', kind: 'visit', lots: ['l'], mixes: [], months: [], closed: [] }],
  codes: { a: 'A-1', b: 'B-1', c: 'C-1' },
  mixes: { feed: 'Feed' },
  benches: {},
  butt: { name: 'Rain butt', startL: 1.5, capL: 80, perDayL: 0 },
  learned: {
    minutes: { mix: work(15), pot: work(3, { from: 'learned', of: 40 }), soakedPot: work(9), leach: work(20) },
    litres: { times: 1.25, low: 1.1, high: 1.4, days: 9 },
  },
};

afterEach(() => vi.unstubAllGlobals());
const CLAY = { now: '2026-11-25T09:00:00Z', batches: [], waters: [], scale: 0.5 };
const open = async () => {
  const page = openPage(<SeasonPage />, { '/api/season': view, '/api/clay': CLAY });
  const [first] = await screen.findAllByRole('button', { name: /^Sill, Dilute, / });
  first!.focus();
  await page.user.keyboard('{Enter}');
  return page;
};
type Asked = Awaited<ReturnType<typeof open>>['asked'];
const keptIn = (asked: Asked) =>
  asked.filter(({ url }) => url.startsWith('/api/season/plan')).map(({ body }) => body as KeepPlan);
const actsIn = (asked: Asked) => asked.filter(({ url }) => url.startsWith('/api/season/acts')).map(({ body }) => body);

describe('some pots of a watering', () => {
  it('are pinned alone; the others stay free', async () => {
    const { user, asked } = await open();
    await user.click(screen.getByRole('button', { name: 'Only some of them …' }));
    expect(screen.getByRole('button', { name: 'Pin' })).toBeDisabled();
    await user.click(screen.getByRole('checkbox', { name: 'B-1' }));
    await user.click(screen.getByRole('button', { name: 'Pin' }));
    await waitFor(() => expect(keptIn(asked)).toHaveLength(1));
    const { did, pots, foretold } = keptIn(asked)[0]!;
    expect(did).toMatchObject({ kind: 'pinned', pots: 1 });
    const of = (id: string) => pots.find(({ potId }) => potId === id)!;
    expect(of('b').pins).toHaveLength(1);
    expect([of('a').pins, of('c').pins]).toEqual([[], []]);
    // Each of its days with what it takes, and what it would take by the arithmetic alone.
    expect(foretold).toHaveLength(DAYS);
    const day = foretold.find(({ stillL }) => stillL > 0)!;
    expect(day.stillL / day.plainL).toBeCloseTo(1.25, 6);
  });
  it('are cut out of their lot with their share of what it takes', () => {
    const plan = greedyPlan(view.problem);
    const act = { kind: 'visit' as const, lots: [0], day: plan.visits[0]![0]! };
    const cut = splitAct(view, plan, act, new Set(['b']));
    expect(cut.act.lots).toEqual([1]);
    expect(cut.view.problem.lots.map(({ potIds }) => potIds)).toEqual([['a', 'c'], ['b']]);
    const litres = new Liver(view.problem).live(plan).totals.usedL;
    expect(new Liver(cut.view.problem).live(cut.plan).totals.usedL).toBeCloseTo(litres, 9);
    expect(cut.view.lanes[0]!.lots).toEqual(cut.view.problem.lots.map(({ id }) => id));
    expect(splitAct(view, plan, act, new Set(POTS)).view.problem).toEqual(view.problem);
  });
});

describe('still water', () => {
  it('of a morning can be said otherwise; what is no amount is told at its field', async () => {
    const { user, asked } = await open();
    expect(screen.getByText(/Made or brought by that morning: 2 L/)).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'More or less …' }));
    const field = screen.getByLabelText(/Made or brought by that morning/);
    await user.clear(field);
    await user.type(field, 'much{Enter}');
    expect(screen.getByRole('alert')).toBeInTheDocument();
    await user.clear(field);
    await user.type(field, '12,5{Enter}');
    await waitFor(() => expect(actsIn(asked)).toHaveLength(1));
    expect(actsIn(asked)[0]).toMatchObject({ kind: 'made', litres: 12.5 });
  });
  it('of the rain butt: what the waterings take, and the day it does not reach', async () => {
    await open();
    expect(screen.getByText(/Rain butt: 1\.5 L now.*It does not reach on .* unless it rains/)).toBeInTheDocument();
  });
});

describe('how long things take', () => {
  it('is learned where nothing is typed, and says of how many', async () => {
    const { user, asked } = await open();
    expect(screen.getByText(/3 min a pot \(learned\), 15 a mix/)).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'How long things take …' }));
    expect(screen.getByText('Left empty: 3, as the last 40 pots took')).toBeInTheDocument();
    await user.type(screen.getByLabelText('A mix, minutes'), '22');
    await user.click(screen.getByRole('button', { name: 'Plan with it' }));
    await waitFor(() => expect(actsIn(asked)).toHaveLength(1));
    expect(actsIn(asked)[0]).toEqual({ kind: 'workTimes', mix: 22, pot: null, soakedPot: null, leach: null });
  });
  it('what a plan takes by the arithmetic alone is the same where nothing was learned', () => {
    const plan = greedyPlan(view.problem);
    const learned = { ...view.learned, litres: null };
    for (const { stillL, plainL } of foretoldOf(view.problem, plan, { ...view, learned })) expect(stillL).toBe(plainL);
  });
});

describe('the last weeks', () => {
  const back: LookBack = {
    days: [
      {
        ...{ on: '2026-11-20', onDay: ['A-1'], sooner: [{ code: 'B-1', days: 1 }], later: [], notYet: ['C-1'] },
        ...{ foretoldL: 4, drawnL: 5 },
      },
    ],
    learned: view.learned,
  };
  it('say what was done when, and what is drawn for every litre foretold', async () => {
    openPage(<LookBackPage />, { '/api/season/look-back': back });
    expect(await screen.findByText('3 waterings were planned: 1 on the day, 1 sooner, 1 not yet.')).toBeInTheDocument();
    expect(
      screen.getByText(/25 % more is drawn than the arithmetic says \(110 to 140 of every 100/),
    ).toBeInTheDocument();
    expect(screen.getByText('1 day sooner: B-1')).toBeInTheDocument();
    cleanup();
    openPage(<LookBackPage />, { '/api/season/look-back': { ...back, days: [] } });
    expect(await screen.findByText('No plan stood in the last weeks')).toBeInTheDocument();
  });
});

describe('what wears', () => {
  const months = Array.from({ length: 12 }, (_, n) => `2026-${String(n + 1).padStart(2, '0')}`);
  const year: YearView = {
    ...{ on: '2026-11-25', months, now: 3, rows: [], still: null, bottles: [] },
    strengths: [
      {
        ...{ place: 'Sill', regimen: 'Dilute' },
        byStage: [
          { stage: 'growth', words: '90', pots: 3 },
          { stage: 'rest', words: '45', pots: 0 },
        ],
      },
    ],
    parts: [{ id: 'p', name: 'Membrane', everyDays: 730, dueOn: '2026-11-01' }],
  };
  it('is put in new, noted with what is missing told, and strengths stand by stage', async () => {
    const { user, asked } = openPage(<YearPage />, { '/api/season/year': year });
    const parts = within(await screen.findByRole('region', { name: 'What wears in making still water' }));
    expect(parts.getByText(/due since 1 Nov/)).toBeInTheDocument();
    await user.click(parts.getByRole('button', { name: 'New today' }));
    await waitFor(() => expect(actsIn(asked)).toHaveLength(1));
    expect(actsIn(asked)[0]).toEqual({ kind: 'partChanged', partId: 'p', on: '2026-11-25' });
    await user.click(parts.getByRole('button', { name: 'Note one …' }));
    fireEvent.change(screen.getByLabelText('Put in new on'), { target: { value: '' } });
    await user.click(screen.getByRole('button', { name: 'Note it' }));
    expect(screen.getByText('Choose the day it was put in.')).toBeInTheDocument();
    const stages = within(screen.getByRole('region', { name: 'Strength by stage' }));
    expect(stages.getByText('· 3 now', { exact: false })).toBeInTheDocument();
    expect(stages.getByText('At rest')).toBeInTheDocument();
  });
});
