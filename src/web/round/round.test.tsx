import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { RoundAct, RoundMix, RoundPot, RoundView } from '../../contract/round.ts';
import { ActsProvider } from '../shell/acts.tsx';
import { RoundPage } from './index.ts';
import { A_MIX, NO_ROUND, NOTHING_SPECIAL, TODAY } from '../../../tests/round-fixtures.ts';
import type { ReactNode } from 'react';
import { Toasts } from '../shell/toasts.tsx';
import { draftKey } from './read-draft.ts';

const pot = (code: string, more: Partial<RoundPot> = {}): RoundPot => ({
  id: `id-${code}`,
  code,
  name: 'Hoya',
  place: 'East sill',
  clay: 'batch 1',
  reservoirMl: 260,
  fillMl: 250,
  flushMl: 780,
  flush: {
    stages: [],
    runOffPpm: null,
    afterPpm: null,
    habitMl: 780,
    why: '3 × the reservoir, rule of thumb',
    by: null,
  },
  due: { dueOn: TODAY, status: 'due', daysLate: 0, pastLimit: 0, words: 'due' },
  done: null,
  mixKey: 'mix',
  drawing: {
    level: 0.3,
    levelIsGuess: false,
    ratio: 1.2,
    ph: 6.4,
    phLow: 5.5,
    phHigh: 6.5,
    salts: 0,
    stage: 'growth',
    form: 'clay',
  },
  expected: { ppm: 140, ph: 6.6, leftMl: 60, atLarge: false },
  ...NOTHING_SPECIAL,
  note: null,
  lastPouredPpm: 104,
  read: null,
  ...more,
});
const poured: NonNullable<RoundMix['batch']> = {
  id: 'batch',
  status: 'poured',
  startedAt: `${TODAY}T09:00:00Z`,
  time: '09:10',
  readsPpm: 104,
  ph: 5.8,
  leftMl: 900,
  pourableMl: 950,
  today: true,
};
const mix: RoundMix = { ...A_MIX, batch: poured };
const view = (pots: RoundPot[], mixes: RoundMix[] = [mix]): RoundView => ({
  ...NO_ROUND,
  due: pots.filter((p) => p.due.daysLate >= 0).length,
  done: pots.filter((p) => p.done).length,
  late: 0,
  nextDue: { on: '2026-11-27', pots: 3 },
  mixes,
  places: [{ id: 'e', name: 'East sill', note: 'bright', pots }],
  ppmMeter: { id: 'm', name: 'Blue pen', simulated: false },
  phMeter: { id: 'n', name: 'Yellow pen', simulated: false },
});

/** A stand-in server: answers the round, takes acts. */
let served: RoundView;
type Many = { eventId: string; act: Extract<RoundAct, { kind: 'filled' }> };
const manys: { fills: Many[] }[] = [];
const undone: object[] = [];
const readings: object[] = [];
let acts: RoundAct[];
let answer: () => Response;
beforeEach(() => {
  acts = [];
  answer = () => Response.json({ eventId: 'e', at: `${TODAY}T09:30:00Z`, repeated: false });
  vi.stubGlobal(
    'fetch',
    vi.fn(async (url: string, init?: RequestInit) => {
      if (url === '/api/shell/plans') return Response.json({ today: TODAY, plans: [] });
      if (init?.method === 'PUT' && url.startsWith('/api/round/acts/')) {
        acts.push(JSON.parse(init.body as string) as RoundAct);
        return answer();
      }
      if (init?.method === 'PUT' && url.startsWith('/api/round/many/')) {
        manys.push(JSON.parse(init.body as string) as { fills: Many[] });
        const ids = manys.at(-1)!.fills.map((fill) => fill.eventId);
        return Response.json({ loggedIds: ids.slice(1), already: ['R-01'], repeated: false });
      }
      if (init?.method === 'PUT' && url.startsWith('/api/round/reading/')) {
        readings.push(JSON.parse(init.body as string) as object);
        return Response.json({ eventId: 'e', repeated: false });
      }
      if (init?.method === 'PUT' && url.startsWith('/api/book/undos/')) {
        undone.push(JSON.parse(init.body as string) as object);
        return Response.json({ eventId: 'u', targetId: 't', words: 'Took it back', repeated: false });
      }
      return Response.json(served);
    }),
  );
});
afterEach(() => vi.unstubAllGlobals());

function open(round: RoundView, beside: ReactNode = null) {
  served = round;
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <ActsProvider>
        <MemoryRouter>
          <RoundPage />
          {beside}
        </MemoryRouter>
      </ActsProvider>
    </QueryClientProvider>,
  );
  return userEvent.setup();
}
const card = () => screen.findByRole('complementary');

describe('several alike', () => {
  it('are logged in one act but for those with something typed; what another device had is told, and not taken back', async () => {
    sessionStorage.setItem(draftKey(pot('R-03')), JSON.stringify({ ppm: '180' }));
    const user = open(view([pot('R-01'), pot('R-02'), pot('R-03')]), <Toasts />);
    await user.click(await screen.findByRole('button', { name: 'or several alike at once' }));
    expect(screen.getByRole('checkbox', { name: 'R-03, typed in' })).not.toBeChecked();
    await user.click(screen.getByRole('button', { name: 'Log 2 pots' }));
    await screen.findByText(/1 pot filled as planned; R-01 logged already on another device, left as it was/);
    const { fills } = manys.at(-1)!;
    expect(fills.map((fill) => fill.act.potId)).toEqual(['id-R-01', 'id-R-02']);
    expect(fills[0]!.act).toMatchObject({ kind: 'filled', oldReservoir: { ppm: { kind: 'notMeasured' } } });
    await user.click(screen.getByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(undone.at(-1)).toEqual({ targetId: fills[1]!.eventId, alsoIds: [] }));
    sessionStorage.clear();
  });
  it('as many are chosen as the mix fills; more than it holds is said before anything is sent', async () => {
    const many = Array.from({ length: 30 }, (_, i) => pot(`R-${10 + i}`));
    const user = open(view(many));
    await user.click(await screen.findByRole('button', { name: 'or several alike at once' }));
    const { fillMl } = many[0]!;
    const reached = Math.floor(poured.pourableMl / fillMl);
    expect(screen.getByRole('button', { name: `Log ${reached} pots` })).toBeEnabled();
    await user.click(screen.getByRole('checkbox', { name: new RegExp(`, ${reached} of 30`) }));
    expect(screen.getByText(/Of the mix .* are left and these take .* Leave some out, or make more/)).toBeVisible();
    expect(screen.getByRole('button', { name: 'Log 30 pots' })).toBeDisabled();
  });
});

const asked = (ph: string, more: Partial<NonNullable<RoundPot['read']>['ph']> = {}): Partial<RoundPot> => {
  const left = { missed: false, never: false, turnOn: '2026-12-09', odd: { below: 100, above: 200 } };
  return {
    read: {
      ppm: {
        ...left,
        asked: null,
        short: '120 to 150 foreseen; its turn is 9 Dec',
        words: 'Leave it: 120 to 150 foreseen.',
      },
      ph: { ...left, asked: 'near', turnOn: null, short: ph, words: `${ph}.`, odd: { below: 5.6, above: 7 }, ...more },
      leftAboveMl: 150,
      never: false,
    },
  };
};
const asking = (pots: RoundPot[], more: Partial<RoundView['reading']> = {}): RoundView => ({
  ...view(pots),
  reading: {
    ...NO_ROUND.reading,
    choice: { how: 'asked' },
    ...{ asked: 1, made: 1, all: 4, little: 1, pots: 1 },
    minutes: { everything: 3, asked: 1, little: 1, made: 1 },
    ...more,
  },
});

describe('a round read by what is asked', () => {
  it('says what is read of each pot and why, and what may be left and until when', async () => {
    open(
      asking([
        pot('R-01', asked('Near pH 6.5')),
        pot('R-02', asked('Near pH 6.5', { asked: null, short: 'its turn is 16 Dec' })),
      ]),
    );
    expect(await screen.findByRole('heading', { name: 'Read 1 pot, 1 dip, leave 1' })).toBeVisible();
    expect(screen.getByRole('button', { name: /^R-01 Hoya, due, mix A, read pH/ })).toBeVisible();
    expect(screen.getByRole('button', { name: /^R-02 Hoya, due, mix A, leave it unread/ })).toBeVisible();
    const lists = screen.getByRole('region', { name: 'Asked, and left' });
    expect(within(lists).getByRole('button', { name: 'R-01 pH Near pH 6.5' })).toBeVisible();
    expect(within(lists).getByRole('button', { name: 'R-02 pH its turn is 16 Dec' })).toBeVisible();
    expect(screen.getByLabelText('Old reservoir, ppm')).toHaveAttribute('placeholder', 'leave, 140');
  });
  it('is not logged with what is asked left empty, but left unread with L; why it was asked goes with it', async () => {
    const user = open(asking([pot('R-01', asked('Near pH 6.5')), pot('R-02')]));
    await user.click(await screen.findByRole('button', { name: 'Log, next pot' }));
    expect(await screen.findByText('Its pH is asked. Read it, or leave it unread (L).')).toBeVisible();
    const ph = screen.getByLabelText('Old reservoir, pH');
    expect(ph).toHaveFocus();
    expect(acts).toEqual([]);
    await user.keyboard('l');
    await waitFor(() => expect(acts).toHaveLength(1));
    expect(acts[0]).toMatchObject({
      oldReservoir: { ph: { kind: 'notMeasured' } },
      askedFor: { ppm: null, ph: 'near' },
    });
  });
  it('what comes out odd asks for the rest of it', async () => {
    const user = open(asking([pot('R-01', asked('Near pH 6.5'))]));
    await user.type(await screen.findByLabelText('Old reservoir, pH'), '7.6{Enter}');
    expect(await screen.findByText(/Its pH is other than foreseen. Read this too/)).toBeVisible();
    expect(acts).toEqual([]);
    await user.type(screen.getByLabelText('Old reservoir, ppm'), '230{Enter}');
    await waitFor(() => expect(acts).toHaveLength(1));
    expect(acts[0]).toMatchObject({ askedFor: { ppm: 'odd', ph: 'near' }, oldReservoir: { ppm: { value: 230 } } });
  });
  it('a budget is one tap; what is left out for it is said, and of little nothing is promised', async () => {
    const missed = asked('Near pH 6.5', { missed: true });
    const user = open(
      asking([pot('R-01', missed)], { choice: { how: 'atMost', most: 1, of: 'dips' }, made: 0, pots: 0, missed: 1 }),
    );
    expect(await screen.findByText(/1 of 1 asked is left out: the most telling come first/)).toBeVisible();
    expect(screen.getByText(/Of under a third of all readings nothing is promised/)).toBeVisible();
    expect(screen.getByText(/asked, but not within the budget/)).toBeVisible();
    await user.click(screen.getByRole('button', { name: 'Fewer' }));
    await waitFor(() =>
      expect(readings.at(-1)).toEqual({ kind: 'howMuch', choice: { how: 'atMost', most: 0, of: 'dips' } }),
    );
    await user.click(screen.getByRole('radio', { name: /^Everything/ }));
    await waitFor(() => expect(readings.at(-1)).toEqual({ kind: 'howMuch', choice: { how: 'everything' } }));
    await user.click(screen.getByRole('button', { name: 'Never ask it' }));
    await waitFor(() => expect(readings.at(-1)).toEqual({ kind: 'never', potId: 'id-R-01', never: true }));
  });
  it('several alike: of which a reading is asked is said', async () => {
    const user = open(asking([pot('R-01'), pot('R-02', asked('Near pH 6.5'))]));
    await user.click(await screen.findByRole('button', { name: 'or several alike at once' }));
    expect(screen.getByText('A reading is asked of R-02: logged so, it is left unread.')).toBeVisible();
  });
});

describe('the round', () => {
  it('one key logs as planned; nothing expected is logged as read', async () => {
    const user = open(view([pot('R-01'), pot('R-02')]));
    const button = await screen.findByRole('button', { name: 'Log as planned, next pot' });
    await waitFor(() => expect(button).toHaveFocus());
    expect(screen.getByLabelText('Old reservoir, ppm')).toHaveAttribute('placeholder', 'expect 140');
    await user.keyboard('{Enter}');
    await waitFor(() => expect(acts).toHaveLength(1));
    expect(acts[0]).toMatchObject({
      kind: 'filled',
      potId: 'id-R-01',
      batchId: 'batch',
      pouredMl: 250,
      flushMl: 780,
      flushWith: [],
      look: null,
      turn: 0,
      oldReservoir: { ppm: { kind: 'notMeasured' }, ph: { kind: 'notMeasured' }, leftMl: null },
    });
    await waitFor(async () => expect(await card()).toHaveAccessibleName('R-02 Hoya'));
  });
  it('its steps are numbered as they are done', async () => {
    open(view([pot('R-01')]));
    const steps = within(await card()).getAllByRole('listitem');
    const numbers = steps.map((step) => /^\d/.exec(step.textContent ?? '')?.[0]).filter(Boolean);
    expect(numbers.length).toBeGreaterThan(4);
    expect(numbers).toEqual(numbers.map((_, i) => String(i + 1)));
  });
  it('whatever a refusal is about, it is said on the card', async () => {
    const refused = { status: 400, code: 'invalid-request', title: 'x', type: 'about:blank', detail: 'Look again.' };
    const user = open(view([pot('R-01')]));
    for (const [path, shown] of [
      ['oldReservoir.ppm', /put the pen on the Shelf/],
      ['somethingElse', /put the pen on the Shelf/],
    ] as const) {
      const errors = [{ path, message: 'A strength counts: put the pen on the Shelf first.' }];
      answer = () =>
        Response.json({ ...refused, errors }, { status: 400, headers: { 'content-type': 'application/problem+json' } });
      await user.click(await screen.findByRole('button', { name: 'Log as planned, next pot' }));
      expect(await screen.findByText(shown)).toBeVisible();
    }
  });
  it('a mix that is nearly used up does not fill a pot that takes more: more is made first, unless less is poured', async () => {
    const user = open(view([pot('R-01')], [{ ...mix, batch: { ...poured, leftMl: 150, pourableMl: 195 } }]));
    expect(await screen.findByRole('link', { name: 'Make more of mix A first' })).toBeVisible();
    expect(screen.getByText(/only 150.mL of it left/)).toBeVisible();
    await user.type(screen.getByLabelText(/^Fill, /), '150');
    expect(await screen.findByRole('button', { name: 'Log as planned, next pot' })).toBeVisible();
  });
  it('a half-typed reading keeps its field when the round is fetched anew', async () => {
    const user = open(view([pot('R-01')]));
    await waitFor(() => expect(screen.getByRole('button', { name: 'Log as planned, next pot' })).toHaveFocus());
    await user.keyboard('21');
    served = view([pot('R-01')], [{ ...mix, batch: { ...poured, leftMl: 650 } }]);
    window.dispatchEvent(new Event('visibilitychange'));
    await screen.findByText(/650.mL left|0\.65.L left/);
    const field = screen.getByLabelText('Old reservoir, ppm');
    expect(field).toHaveFocus();
    await user.keyboard('4');
    expect(field).toHaveValue('214');
  });
  it('the reading just typed plans the flush and its run-off anew, says so, and that is what is logged', async () => {
    const reckoned = pot('R-01', {
      flushMl: 275,
      flush: {
        stages: [{ waterId: 'w1', water: 'Still water', ml: 275 }],
        runOffPpm: 40,
        afterPpm: 90,
        habitMl: 250,
        why: 'wets all the clay',
        by: {
          ...{ poresPpm: 120, poreMl: 100, efficiency: { mean: 0.6, sd: 0.1 }, mixPpm: 100 },
          ...{ habitTimes: 1, compareMl: 275, waterIds: ['w1'] },
        },
      },
    });
    const user = open(view([reckoned]));
    expect(await card()).toHaveTextContent(/Flush from the top with 275.mL still water.*then reads \d+ to \d+;/);
    // As it was foretold: nothing to plan anew.
    await user.type(screen.getByLabelText('Old reservoir, ppm'), '95');
    expect(await card()).not.toHaveTextContent(/planned anew/);
    await user.clear(screen.getByLabelText('Old reservoir, ppm'));
    await user.type(screen.getByLabelText('Old reservoir, ppm'), '900');
    const flush = await screen.findByText(/planned anew by what you just read/);
    expect(flush).toHaveTextContent(/until its salts run off/);
    await user.click(screen.getByRole('button', { name: 'Log as planned, next pot' }));
    await waitFor(() => expect(acts).toHaveLength(1));
    const logged = acts[0] as Extract<RoundAct, { kind: 'filled' }>;
    expect(logged.flushMl).toBeGreaterThan(300);
    expect(logged.flushWith).toEqual([{ waterId: 'w1', ml: logged.flushMl }]);
  });
  it('a flush other than planned keeps the shares of its waters, and what ran off is kept', async () => {
    const planned = pot('R-01', {
      flushMl: 400,
      flush: {
        stages: [
          { waterId: 'tap', water: 'Kitchen tap', ml: 300 },
          { waterId: 'still', water: 'Still water', ml: 100 },
        ],
        runOffPpm: 60,
        afterPpm: 90,
        habitMl: 780,
        why: 'until its salts run off',
        by: null,
      },
    });
    const user = open(view([planned]));
    expect(await card()).toHaveTextContent(
      /300.mL kitchen tap, then 100.mL still water.*until its salts run off; rule of thumb 780.mL/,
    );
    await user.type(screen.getByLabelText('Flushed with, mL, when other than planned'), '800');
    await user.type(screen.getByLabelText('Run-off at the end of the flush, ppm'), '70');
    await user.click(screen.getByRole('button', { name: 'Log as planned, next pot' }));
    await waitFor(() => expect(acts).toHaveLength(1));
    expect(acts[0]).toMatchObject({
      flushMl: 800,
      flushWith: [
        { waterId: 'tap', ml: 600 },
        { waterId: 'still', ml: 200 },
      ],
      runOffPpm: { kind: 'value', value: 70 },
    });
  });
  it('a digit starts the reading; Enter goes to the next empty one, then logs', async () => {
    const user = open(view([pot('R-01')]));
    await waitFor(() => expect(screen.getByRole('button', { name: 'Log as planned, next pot' })).toHaveFocus());
    await user.keyboard('2');
    expect(screen.getByLabelText('Old reservoir, ppm')).toHaveFocus();
    await user.keyboard('14{Enter}');
    expect(screen.getByLabelText('Old reservoir, pH')).toHaveFocus();
    expect(acts).toHaveLength(0);
    await user.keyboard('6.9{Enter}');
    await waitFor(() =>
      expect(acts[0]).toMatchObject({
        oldReservoir: { ppm: { kind: 'value', value: 214 }, ph: { kind: 'value', value: 6.9 } },
      }),
    );
  });
  it('a look that found nothing is not the same as no look', async () => {
    const user = open(view([pot('R-01')]));
    await user.click(await screen.findByRole('button', { name: 'all fine' }));
    await user.click(screen.getByRole('button', { name: 'Log as planned, next pot' }));
    await waitFor(() => expect(acts[0]).toMatchObject({ look: { cues: {}, note: '' } }));
  });
  it('text in a reading is answered at the field, and nothing is sent', async () => {
    const user = open(view([pot('R-01')]));
    await user.type(await screen.findByLabelText('Old reservoir, ppm'), 'wet');
    await user.click(screen.getByRole('button', { name: 'Log as planned, next pot' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('such as 104');
    expect(screen.getByLabelText('Old reservoir, ppm')).toHaveFocus();
    expect(acts).toHaveLength(0);
  });
  it('too little of the mix is said at the fill, and what was typed stays', async () => {
    answer = () =>
      Response.json(
        {
          type: '',
          title: '',
          status: 409,
          code: 'mix-too-small',
          detail: 'Only 100 mL of that mix is left',
          errors: [{ path: 'pouredMl', message: 'Only 100 mL of that mix is left' }],
        },
        { status: 409, headers: { 'content-type': 'application/problem+json' } },
      );
    const user = open(view([pot('R-01')]));
    await user.type(await screen.findByLabelText('Old reservoir, ppm'), '140');
    await user.click(screen.getByRole('button', { name: 'Log as planned, next pot' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('Only 100 mL');
    expect(screen.getByLabelText('Old reservoir, ppm')).toHaveValue('140');
  });
  it('a pot that the other device logged is said to be, with the time', async () => {
    answer = () =>
      Response.json(
        {
          type: '',
          title: '',
          status: 409,
          code: 'already-logged',
          detail: 'x',
          existing: { at: `${TODAY}T09:31:00Z`, eventId: 'e' },
        },
        { status: 409, headers: { 'content-type': 'application/problem+json' } },
      );
    const user = open(view([pot('R-01')]));
    await user.click(await screen.findByRole('button', { name: 'Log as planned, next pot' }));
    expect(await screen.findByRole('alert')).toHaveTextContent(/already logged at 09:31.*Nothing was logged twice/);
  });
  it('without a mix it leads to the bench, and can be logged as not measured', async () => {
    const user = open(view([pot('R-01')], [{ ...mix, batch: null, litresToMix: 0.4 }]));
    expect(await screen.findByRole('link', { name: 'Make mix A first' })).toHaveAttribute('href', '/bench/new?mix=mix');
    expect(screen.getByRole('article', { name: 'Mix A' })).toHaveTextContent(/make 0.4.L for 2 pots/);
    await user.click(screen.getByRole('button', { name: /mix that was not measured/ }));
    await waitFor(() => expect(acts[0]).toMatchObject({ batchId: null }));
  });
  it('six pots are logged by six keys: Enter goes past what wants another mix or a soak, and says so', async () => {
    const other: RoundMix = { ...mix, key: 'other', letter: 'B', batch: null };
    const pots = Array.from({ length: 9 }, (_, i) =>
      pot(`R-0${i + 1}`, i % 3 === 1 && i < 8 ? { mixKey: 'other' } : {}),
    );
    const user = open(view(pots, [mix, other]));
    const button = () => screen.findByRole('button', { name: 'Log as planned, next pot' });
    await waitFor(async () => expect(await button()).toHaveFocus());
    const inTurn = ['R-01', 'R-03', 'R-04', 'R-06', 'R-07', 'R-09'];
    for (const [i, code] of inTurn.entries()) {
      await waitFor(async () => expect(await card()).toHaveAccessibleName(`${code} Hoya`));
      await waitFor(async () => expect(await button()).toHaveFocus());
      await user.keyboard('{Enter}');
      await waitFor(() => expect(acts).toHaveLength(i + 1));
      if (i === 0) expect(await screen.findByText(/Passed by, for what is not made yet: R-02 \(B\)/)).toBeVisible();
    }
    expect(acts.map((act) => 'potId' in act && act.potId)).toEqual(inTurn.map((code) => `id-${code}`));
    // Nothing that can be logged is left: the first that waits is in hand, with its mix to be made.
    expect(await screen.findByRole('link', { name: 'Make mix B first' })).toBeInTheDocument();
  });
  it('skips with a reason and a day, and wants the reason', async () => {
    const user = open(view([pot('R-01')]));
    await user.click(await screen.findByRole('button', { name: 'Skip' }));
    await user.click(screen.getByRole('button', { name: 'Skip this pot' }));
    expect(screen.getByRole('alert')).toHaveTextContent('Say why');
    await user.type(screen.getByLabelText('Another reason'), 'flowering');
    await user.click(screen.getByRole('button', { name: 'in a week' }));
    await user.click(screen.getByRole('button', { name: 'Skip this pot' }));
    await waitFor(() =>
      expect(acts[0]).toMatchObject({ kind: 'skipped', reason: 'flowering', lookAgainOn: '2026-12-02' }),
    );
  });
  it('a letter in the note is a letter, where P dips the pen elsewhere', async () => {
    const dipped = vi.fn();
    vi.stubGlobal('EventSource', function Stand() {
      dipped();
      return { close: () => undefined };
    });
    const user = open({ ...view([pot('E-01')]), ppmMeter: { id: 'm', name: 'Blue pen', simulated: true } });
    await user.click(await screen.findByRole('button', { name: 'more' }));
    await user.type(screen.getByLabelText('Note on how it looks'), 'pale tip');
    expect(screen.getByLabelText('Note on how it looks')).toHaveValue('pale tip');
    expect(dipped).not.toHaveBeenCalled();
    screen.getByLabelText('Old reservoir, ppm').focus();
    await user.keyboard('p');
    expect(dipped).toHaveBeenCalledOnce();
  });
  it('is read where it stands, without being filled; nothing typed is answered at the field', async () => {
    const user = open(view([pot('E-01')]));
    await user.click(await screen.findByRole('button', { name: 'Read it' }));
    const form = screen.getByRole('form', { name: 'Read E-01' });
    await user.type(within(form).getByLabelText('In the pot, ppm'), '166');
    await user.type(within(form).getByLabelText('In the pot, pH'), 'acid');
    await user.click(within(form).getByRole('button', { name: 'Log it' }));
    expect(within(form).getByRole('alert')).toHaveTextContent(/Type the figure on the pen, such as 5.8/);
    expect(acts).toEqual([]);
    await user.clear(within(form).getByLabelText('In the pot, pH'));
    await user.type(within(form).getByLabelText('Left in it, mL'), '40');
    await user.click(within(form).getByRole('button', { name: 'Log it' }));
    await waitFor(() => expect(acts).toHaveLength(1));
    expect(acts[0]).toEqual({
      kind: 'reread',
      potId: 'id-E-01',
      ppm: { kind: 'value', value: 166 },
      ph: { kind: 'notMeasured' },
      leftMl: 40,
      ppmMeterId: 'm',
      phMeterId: 'n',
    });
    await waitFor(() => expect(screen.queryByRole('form', { name: 'Read E-01' })).toBeNull());
  });
  it('says the evidence before the pot is done', async () => {
    open(
      view([
        pot('R-07', {
          note: {
            fact: 'The old reservoir last read 218 against a 104 feed.',
            evidence: 'That is 2.1 times what was poured.',
          },
        }),
      ]),
    );
    expect(await screen.findByText('The old reservoir last read 218 against a 104 feed.')).toBeInTheDocument();
  });
  it('a day with nothing due says when the next is', async () => {
    const later = pot('R-01', {
      due: { dueOn: '2026-11-27', status: 'soon', daysLate: -2, pastLimit: 0, words: 'in 2 d' },
      mixKey: null,
    });
    open(view([later], []));
    const mixes = await screen.findByRole('region', { name: 'Mixes of this round' });
    expect(within(mixes).getByText(/Fri 27 Nov/)).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: 'Log as planned, next pot' })).not.toBeInTheDocument();
  });
  it('a server that does not answer is said so, with a way to try again', async () => {
    vi.stubGlobal(
      'fetch',
      vi.fn(() => Promise.reject(new TypeError('gone'))),
    );
    served = view([]);
    const user = open(served);
    expect(await screen.findByRole('alert')).toHaveTextContent(/does not answer.*kept/);
    vi.stubGlobal(
      'fetch',
      vi.fn(async (url: string) =>
        Response.json(url === '/api/shell/plans' ? { today: TODAY, plans: [] } : view([pot('R-01')])),
      ),
    );
    await user.click(screen.getByRole('button', { name: 'Try again' }));
    expect(await screen.findByRole('heading', { name: 'Wednesday’s round' })).toBeInTheDocument();
  });
  it('an act without an answer is kept and said to wait, and U takes it back unsent', async () => {
    const user = open(view([pot('R-01'), pot('R-02')]));
    const button = await screen.findByRole('button', { name: 'Log as planned, next pot' });
    answer = () => {
      throw new TypeError('gone');
    };
    await user.click(button);
    await waitFor(() => expect(screen.getByRole('button', { name: /R-01 Hoya/ })).toHaveTextContent('waits'));
    await user.keyboard('u');
    await waitFor(() => expect(screen.getByRole('button', { name: /R-01 Hoya/ })).toHaveTextContent('due'));
  });
});
