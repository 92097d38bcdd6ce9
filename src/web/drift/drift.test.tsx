import { cleanup, screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { AT } from '../../core/drift/index.ts';
import { openPage, refusal } from '../../../tests/component-page.tsx';
import { AllPotsPage } from './all-pots-page.tsx';
import { DriftPage } from './drift-page.tsx';
import { model, pot, potDrift, room, soak } from './drift-fixtures.ts';
import { answerPour, bandsOf } from './model.ts';

const acids = {
  fromPh: 6.6,
  toPh: 5.6,
  litres: 2.6,
  choices: [
    {
      productId: 'n',
      name: 'Nitric pH-down',
      ml: 0.4,
      words: '0.4 mL',
      brings: '3 mg/L nitrogen',
      lasts: 'stays',
      caution: '',
    },
  ],
  why: null,
};
/** Answers whatever pH is asked for. */
const reads = (more: Record<string, unknown> = {}): Record<string, unknown> => {
  const known: Record<string, unknown> = { '/api/drift': room, '/api/drift/pots/a': potDrift(), ...more };
  return new Proxy(known, {
    has: (_, url) => String(url) in known || String(url).startsWith('/api/drift/acids'),
    get: (_, url) => (String(url).startsWith('/api/drift/acids') ? acids : known[String(url)]),
  });
};

describe('the drift room', () => {
  it('says where to pour, with the acid for it, and leads to the bench with that pH', async () => {
    openPage(<DriftPage />, reads(), '/drift?pot=a');
    const advice = await screen.findByRole('region', { name: 'Where to pour' });
    await within(advice).findByText(/Pour at \d\.\d/);
    const ph = /Pour at (\d\.\d)/.exec(advice.textContent ?? '')![1]!;
    const use = await within(advice).findByRole('link', { name: 'Use' });
    expect(use.getAttribute('href')).toBe(`/bench/new?mix=mix&ph=${ph}&litres=2.6&net=90&acid=n`);
    expect(advice).toHaveTextContent('0.4 mL of nitric pH-down');
    expect(advice).toHaveTextContent('By 4 visits whose pH was read and 1 soak test');
    expect(advice).toHaveTextContent('never the reverse');
  });
  it('speaks quietly of a pot that was never read, and names the one reading that would help', async () => {
    const known = potDrift();
    const unread = { ...known, pot: { ...known.pot, rounds: 0 }, soaks: [] };
    openPage(<DriftPage />, reads({ '/api/drift/pots/a': unread }), '/drift?pot=a');
    expect(await screen.findByText(/Begin at \d\.\d/)).toBeInTheDocument();
    expect(screen.getByText(/One pH of its old reservoir, at the next round, would tell more/)).toBeInTheDocument();
    expect(screen.queryByText(/stays inside/)).toBeNull();
  });
  it('a soak test is a reading too: with one it speaks up', async () => {
    const known = potDrift();
    openPage(
      <DriftPage />,
      reads({ '/api/drift/pots/a': { ...known, pot: { ...known.pot, rounds: 0 } } }),
      '/drift?pot=a',
    );
    expect(await screen.findByText(/Pour at \d\.\d/)).toBeInTheDocument();
    expect(screen.queryByText(/Nothing was read of this pot/)).toBeNull();
  });
  it('a pot nothing can be foretold of can be tested from the first day, and its rise is shown as read', async () => {
    const told = { ok: false as const, message: 'What it was filled with is not known.' };
    const read = (minutes: number, ph: number, range: { low: number; high: number } | null = null) => ({
      eventId: `r${minutes}`,
      minutes,
      opened: false,
      ph,
      range,
      ppm: null,
      tainted: false,
    });
    const tested = soak({ ended: true, reads: [read(0, 6), read(30, 6.5), read(62, 6.8)], result: told });
    const unknown = [{ ...room.unknown[0]!, soaks: [tested] }];
    openPage(<DriftPage />, reads({ '/api/drift': { ...room, unknown } }), '/drift?pot=c');
    const card = await screen.findByRole('region', { name: 'Soak test' });
    expect(card).toHaveTextContent('+0.8 in 62 min, still rising');
    expect(within(card).getByRole('button', { name: 'Test it again' })).toBeInTheDocument();
    expect(screen.getByText(/Nothing can be foretold of C-03 yet/)).toBeInTheDocument();
    expect(screen.getByRole('option', { name: 'C-03 Ficus' })).toBeInTheDocument();
  });
  it('colours are ranges, so is the rise between them; a pair that cannot be is said', async () => {
    const told = { ok: false as const, message: 'What it was filled with is not known.' };
    const kit = (minutes: number, low: number, high: number) => ({
      ...{ eventId: `r${minutes}`, minutes, opened: false, ph: (low + high) / 2 },
      ...{ range: { low, high }, ppm: null, tainted: false },
    });
    const show = (pair: ReturnType<typeof kit>[]) => {
      const unknown = [{ ...room.unknown[0]!, soaks: [soak({ ended: true, reads: pair, result: told })] }];
      return openPage(<DriftPage />, reads({ '/api/drift': { ...room, unknown } }), '/drift?pot=c');
    };
    show([kit(0, 6, 6.5), kit(60, 6.5, 7)]);
    expect(await screen.findByRole('region', { name: 'Soak test' })).toHaveTextContent('0.0 to +1.0 in 60 min');
    cleanup();
    show([kit(0, 7, 7.5), kit(60, 6, 6.5)]);
    expect(await screen.findByRole('region', { name: 'Soak test' })).toHaveTextContent('cannot both be right');
  });
  it('tells the air’s share, the tap’s and the clay’s apart', async () => {
    openPage(<DriftPage />, reads(), '/drift?pot=a');
    expect(await screen.findByText(/at 6\.6, it would come to 6\.9 in 7 days by the air alone/)).toHaveTextContent(
      'what the kitchen tap left in the pores makes that 7.1, and clay and roots 7.4',
    );
  });
  it('the chart is a table too, and another pour is looked at without being advised', async () => {
    const { user } = openPage(<DriftPage />, reads(), '/drift?pot=a');
    await screen.findByText(/Pour at \d\.\d/);
    await user.click(screen.getByRole('button', { name: 'Table' }));
    expect(screen.getByRole('row', { name: /round after/ })).toBeVisible();
    expect(screen.getAllByRole('row').length).toBeGreaterThan(26);
    await user.click(screen.getByRole('button', { name: /Let it swing/ }));
    await screen.findByText(/letting it swing/);
  });
  it('a test says what it gives with its range, and what it reckons with', async () => {
    openPage(<DriftPage />, reads(), '/drift?pot=a');
    const test = await screen.findByRole('region', { name: 'Soak test' });
    expect(test).toHaveTextContent('52 ± 14 µeq');
    expect(test).toHaveTextContent('water carried over counted');
    expect(test).toHaveTextContent('readings of a pen that was off are left out');
  });
  it('a reading is typed at its minute; what the server finds odd stays in the field and is kept when kept once more', async () => {
    const running = soak({
      ended: false,
      startedAt: new Date(Date.now() - 12 * 60_000).toISOString(),
      endsAt: new Date(Date.now() + 48 * 60_000).toISOString(),
    });
    const shell = {
      '/api/shell': { now: new Date().toISOString(), zone: 'UTC', units: 'metric', scale: 0.5, clocks: [] },
    };
    const { user, asked, stand } = openPage(
      <DriftPage />,
      reads({ ...shell, '/api/drift/pots/a': potDrift({ soaks: [{ ...running, reads: running.reads.slice(0, 1) }] }) }),
      '/drift?pot=a',
    );
    const field = await screen.findByRole('textbox', { name: 'Soak test, pH' });
    await user.click(screen.getByRole('button', { name: 'Keep' }));
    stand.answer = () => refusal([{ path: 'ph', message: 'Type the pH, such as 6.2' }]);
    await user.type(field, '5.8');
    await user.click(screen.getByRole('button', { name: 'Keep' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('Type the pH');
    expect(field).toHaveValue('5.8');
    expect(asked.at(-1)!.body).toMatchObject({
      kind: 'readSoak',
      afterMinutes: 10,
      ph: { kind: 'value', value: 5.8 },
      ppm: { kind: 'notMeasured' },
    });
  });
  it('says that nothing can be foretold of a pot whose filling nobody knows', async () => {
    openPage(<DriftPage />, reads(), '/drift?pot=c');
    expect(await screen.findByText(/Nothing can be foretold of C-03 yet/)).toBeVisible();
  });
  it('where no pour holds it, it says so', async () => {
    const belief = model().belief;
    const { crowd } = belief;
    const at = crowd.at.map((z, i) => (i % crowd.columns === AT.clay ? 4 + 0.1 * z : z));
    const pushes = { ...belief, crowd: { ...crowd, at } };
    openPage(
      <DriftPage />,
      reads({
        '/api/drift/pots/a': potDrift({ next: { ...potDrift().next, model: model({ belief: pushes, daysGone: 0 }) } }),
      }),
      '/drift?pot=a',
    );
    expect(await screen.findByText(/No pour holds this one/)).toBeVisible();
  });
});

describe('every pot', () => {
  const all = (pots = room.pots) => ({
    '/api/drift': { ...room, pots },
    '/api/drift/models?from=0': [model(), model({ potId: 'b', code: 'B-02' })],
  });
  it('is sorted by who is dry, who salts up and who pushes, with ranges', async () => {
    const { user } = openPage(
      <AllPotsPage />,
      all([pot('A-01'), pot('B-02', { ratios: [2.1], dryOn: '2026-11-26', dueOn: '2026-11-30' })]),
      '/drift/all',
    );
    expect(await screen.findByText(/1 dry before their own day/)).toBeVisible();
    const first = () => screen.getAllByRole('row')[1]!;
    expect(first()).toHaveTextContent('B-02');
    await user.click(screen.getByRole('button', { name: 'Whose clay lifts pH most' }));
    expect(first()).toHaveTextContent('A-01');
    await user.click(screen.getByRole('button', { name: 'Who is salting up' }));
    expect(first()).toHaveTextContent('2.1 × its feed');
    await waitFor(() => expect(first()).toHaveTextContent(/\d+ to \d+/));
  });
  it('the work in a worker says how far it is and is stopped with a press', async () => {
    const sent: ((event: { data: unknown }) => void)[] = [];
    const terminate = vi.fn();
    vi.stubGlobal(
      'Worker',
      class {
        addEventListener(_: string, listen: (event: { data: unknown }) => void) {
          sent.push(listen);
        }
        removeEventListener() {}
        postMessage() {}
        terminate = terminate;
      },
    );
    const { user } = openPage(<AllPotsPage />, all(), '/drift/all');
    expect(await screen.findByText(/0 of 2 pots/)).toBeVisible();
    await user.click(screen.getByRole('button', { name: 'Stop' }));
    expect(terminate).toHaveBeenCalled();
    expect(screen.getByText(/without its range/)).toBeVisible();
    vi.unstubAllGlobals();
  });
});

describe('what the worker answers', () => {
  it('is the same for the same question, and its band holds the middle', () => {
    const asked = { model: model({ daysGone: 0 }), days: 7, horizon: 10, ph: undefined, aim: 'steady' as const };
    const [one, two] = [answerPour(asked), answerPour(asked)];
    expect(two).toEqual(one);
    for (const day of one.bands) expect(day.ph.low <= day.ph.middle && day.ph.middle <= day.ph.high).toBe(true);
    expect(bandsOf(model(), 5)).toHaveLength(9);
  });
});
