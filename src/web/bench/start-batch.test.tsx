import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter, Route, Routes } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { BeforeStart, StartBatch } from '../../contract/bench.ts';
import type { RecipeBook } from '../../contract/recipes.ts';
import type { RoundMix, RoundView } from '../../contract/round.ts';
import type { ShelfView } from '../../contract/shelf.ts';
import { ActsProvider } from '../shell/acts.tsx';
import { StartBatchPage } from './index.ts';
import { A_MIX, NO_ROUND } from '../../../tests/round-fixtures.ts';

const shelf: ShelfView = {
  waters: [
    { id: 'still', name: 'Still water', note: 'reverse osmosis', kind: 'still', lastBasePpm: 9 },
    { id: 'tap', name: 'Kitchen tap', note: 'hard', kind: 'still', lastBasePpm: null },
  ],
  vessels: [
    { id: 'bucket', name: 'Bucket', capacityL: 10, material: 'plastic' },
    { id: 'jug', name: 'Jug', capacityL: 5, material: 'plastic' },
  ],
  bottles: [
    {
      id: 'feed',
      productId: 'p',
      name: 'House feed',
      kind: 'feed',
      unit: 'mL',
      note: '',
      labelDose: null,
      strengthKnown: true,
      stock: null,
    },
  ],
  tools: [
    { id: 'glass', name: 'Glass dropper', kind: 'dropper', dropsPerMl: 18, stepMl: 1 / 18, capacityMl: null },
    { id: 'plastic', name: 'Plastic dropper', kind: 'dropper', dropsPerMl: null, stepMl: 0.05, capacityMl: null },
  ],
  meters: [
    { id: 'blue', name: 'Blue pen', quantity: 'ppm', scale: 0.5, simulated: true },
    { id: 'yellow', name: 'Yellow pen', quantity: 'pH', scale: null, simulated: true },
  ],
};
const mix: RoundMix = { ...A_MIX, key: 'k', pots: 9, potsLeft: 9, litresToMix: 2.5, flushL: 7 };
const round: RoundView = { ...NO_ROUND, due: 9, mixes: [mix] };

const rule = (
  use: 'feed' | 'soak' | 'spray' | 'water',
  netPpm: number,
  phLow: number,
  phHigh: number,
  holdMinutes: number | null,
) => ({
  use,
  values: { netPpm, bandIn: 'percent' as const, below: 10, above: 20, hard: 40, phLow, phHigh, holdMinutes },
  staying: null,
  since: null,
  earlier: [],
});
const book: RecipeBook = {
  recipes: [
    {
      id: 'r',
      values: {
        name: 'Cal-mag, then feed',
        use: 'feed',
        parts: [
          { productId: 'p', aim: { kind: 'net', ppm: 80 }, solid: 'stock' },
          { productId: 'c', aim: { kind: 'perL', units: 0.5 }, solid: 'stock' },
        ],
        waterId: 'tap',
        phLow: 5.6,
        phHigh: 6.2,
        holdMinutes: null,
        note: '',
      },
      retiredOn: null,
      made: { times: 3, right: 3, unread: 0, lastOn: null },
      parts: [],
      brings: null,
      netPpm: 100,
    },
  ],
  rules: [
    rule('feed', 90, 5.5, 6.5, null),
    rule('soak', 100, 6.5, 7, 30),
    rule('spray', 50, 5.5, 7, null),
    rule('water', 0, 5.5, 7.5, null),
  ],
};
const before: BeforeStart = {
  notices: [{ level: 'mind', about: 'water', words: 'About 1 L of still water stand in the tank.' }],
  steps: [{ words: 'Read the plain still water', why: null }],
  trust: { trusted: true, why: 'right 3 times running from this water and these bottles' },
};

let sent: StartBatch[];
let onShelf: ShelfView;
let onRound: RoundView;
let advice: object;
beforeEach(() => {
  sent = [];
  onShelf = shelf;
  onRound = round;
  advice = { pourPh: null };
  vi.stubGlobal(
    'fetch',
    vi.fn(async (url: string, init?: RequestInit) => {
      if (init?.method === 'PUT') {
        sent.push(JSON.parse(init.body as string) as StartBatch);
        return Response.json({});
      }
      if (url.endsWith('/before')) return Response.json(before);
      if (url.startsWith('/api/drift/mix')) return Response.json(advice);
      return Response.json(url.includes('shelf') ? onShelf : url.includes('recipes') ? book : onRound);
    }),
  );
});
afterEach(() => vi.unstubAllGlobals());

function open(path: string) {
  const view = render(
    <QueryClientProvider client={new QueryClient()}>
      <ActsProvider>
        <MemoryRouter initialEntries={[path]}>
          <Routes>
            <Route path="/bench/new" element={<StartBatchPage />} />
            <Route path="/bench/:id" element={<h1>the batch</h1>} />
          </Routes>
        </MemoryRouter>
      </ActsProvider>
    </QueryClientProvider>,
  );
  return { user: userEvent.setup(), view };
}

describe('starting a batch', () => {
  it('half the label’s dose is so many mL a litre of the bottle in use; where nobody knows it, that is said with the way out', async () => {
    const half = { ...mix, parts: [{ kind: 'feed' as const, aim: { kind: 'label' as const, share: 0.5 } }] };
    onRound = { ...round, mixes: [half] };
    onShelf = { ...shelf, bottles: shelf.bottles.map((b) => (b.kind === 'feed' ? { ...b, labelDose: 1.25 } : b)) };
    const { view } = open('/bench/new?mix=k');
    expect(await screen.findByLabelText('mL (g) a litre')).toHaveValue('0.625');
    view.unmount();
    sessionStorage.clear();
    onShelf = { ...shelf, bottles: shelf.bottles.map((b) => ({ ...b, labelDose: null })) };
    const { user } = open('/bench/new?mix=k');
    expect(await screen.findByText(/What its label gives is not on the Shelf/)).toBeVisible();
    await user.click(screen.getByRole('button', { name: 'Read the water next' }));
    expect(await screen.findByText('Give the mL (g) a litre, such as 0.5.')).toBeVisible();
    expect(sent).toEqual([]);
    sessionStorage.clear();
  });
  it('the order of the bench is overruled with a reason, and not without one', async () => {
    const { user } = open('/bench/new?recipe=r');
    await user.click(await screen.findByRole('checkbox', { name: 'In the order they stand here' }));
    await user.click(screen.getByRole('button', { name: /before the one above/ }));
    await user.click(screen.getByRole('button', { name: 'Read the water next' }));
    expect(await screen.findByText('Say why, in a few words.')).toBeVisible();
    await user.type(screen.getByLabelText('Why in that order'), 'as its maker says');
    await user.click(screen.getByRole('button', { name: 'Read the water next' }));
    await screen.findByRole('heading', { name: 'the batch' });
    expect(sent[0]!.ownOrder).toBe('as its maker says');
    expect(sent[0]!.parts.map((part) => part.aim.kind)).toEqual(['perL', 'net']);
    sessionStorage.clear();
  });
  it('from the round everything stands there, in the smallest vessel with room to thin', async () => {
    const { user } = open('/bench/new?mix=k');
    expect(await screen.findByRole('heading', { name: 'Mix A for 9 pots' })).toBeInTheDocument();
    expect(screen.getByLabelText('How much, L')).toHaveValue('2.5');
    expect(screen.getByLabelText('Mix it in')).toHaveValue('jug');
    expect(screen.getByText(/last read 9 ppm/)).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Read the water next' }));
    expect(await screen.findByRole('heading', { name: 'the batch' })).toBeInTheDocument();
    expect(sent).toEqual([
      {
        mixKey: 'k',
        name: 'Feed, 90 over base',
        waterId: 'still',
        vesselId: 'jug',
        recipeId: null,
        use: 'feed',
        parts: [{ bottleId: 'feed', aim: { kind: 'net', ppm: 90 }, solid: 'stock' }],
        ppmMeterId: 'blue',
        phMeterId: 'yellow',
        toolIds: ['glass'],
        volumeL: 2.5,
        phLow: 5.5,
        phHigh: 6.5,
        holdMinutes: null,
        byRecipe: false,
        forPots: [],
        ownOrder: null,
      },
    ]);
  });
  it('another room’s mix by a dose is a dose here too, as that room said it', async () => {
    open('/bench/new?mix=none&ph=5.5&litres=2&perL=2.5');
    expect(await screen.findByLabelText('Aim by')).toHaveValue('perL');
    expect(screen.getByDisplayValue('2.5')).toBeInTheDocument();
  });
  it('from the drift room the pH is aimed at narrowly, and the acid that was chosen goes along', async () => {
    const { user } = open('/bench/new?mix=k&ph=5.3&litres=9&net=75&acid=citric');
    expect(await screen.findByLabelText('pH from')).toHaveValue('5.2');
    // Of a mix on today's round its own litres stand.
    expect(screen.getByLabelText('How much, L')).toHaveValue('2.5');
    await user.click(screen.getByRole('button', { name: 'Read the water next' }));
    await screen.findByRole('heading', { name: 'the batch' });
    expect(sent[0]).toMatchObject({ phLow: 5.2, phHigh: 5.4 });
    expect(Object.entries(sessionStorage).filter(([key]) => key.startsWith('bench-acid:'))).toEqual([
      [expect.any(String), 'citric'],
    ]);
    sessionStorage.clear();
  });
  it('says where its pots would have it poured, and who would rather otherwise; taken with a press', async () => {
    advice = {
      pourPh: 5.3,
      days: 7,
      inside: 6.1,
      insideAtUsual: 4.8,
      pots: 9,
      suffer: [{ id: 'p', code: 'R-07', inside: 2, best: 6, bestPh: 4.6 }],
    };
    const { user } = open('/bench/new?mix=k');
    expect(
      await screen.findByText(
        /The 9 pots together would have it poured at 5\.3: inside for 6\.1 of 7 days, at 5\.8 for 4\.8\. R-07 would rather 4\.6/,
      ),
    ).toBeVisible();
    await user.click(screen.getByRole('button', { name: 'Aim at 5.3' }));
    expect(screen.getByLabelText('pH from')).toHaveValue('5.2');
    expect(screen.queryByRole('button', { name: 'Aim at 5.3' })).not.toBeInTheDocument();
    sessionStorage.clear();
  });
  it('more than the vessel holds is offered in one that holds it, or in goes of the same make', async () => {
    const { user } = open('/bench/new?mix=k');
    const amount = await screen.findByLabelText('How much, L');
    await user.clear(amount);
    await user.type(amount, '8');
    await user.click(await screen.findByRole('button', { name: /Take the bucket, 10.L/ }));
    expect(screen.getByLabelText('Mix it in')).toHaveValue('bucket');
    await user.clear(amount);
    await user.type(amount, '24');
    expect(screen.queryByRole('button', { name: /^Take/ })).not.toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: /Make it in 3 goes of 8.L/ }));
    expect(amount).toHaveValue('8');
    expect(screen.queryByText(/goes of/)).not.toBeInTheDocument();
    sessionStorage.clear();
  });
  it('without any pen it is measured out, by a quarter of the label where nothing else is known', async () => {
    const bottle = { ...shelf.bottles[0]!, labelDose: 2, strengthKnown: false };
    onShelf = { ...shelf, meters: [], bottles: [bottle] };
    const { user } = open('/bench/new?mix=k');
    expect(await screen.findByText(/The label gives 2 mL a litre/)).toBeInTheDocument();
    expect(screen.getByLabelText('mL (g) a litre')).toHaveValue('0.5');
    await user.click(screen.getByRole('button', { name: 'half' }));
    expect(screen.getByLabelText('mL (g) a litre')).toHaveValue('1');
    await user.click(screen.getByRole('button', { name: 'Measure it out next' }));
    await waitFor(() => expect(sent).toHaveLength(1));
    expect(sent[0]).toMatchObject({
      name: 'Feed, by its label',
      ppmMeterId: null,
      phMeterId: null,
      parts: [{ aim: { kind: 'perL', units: 1 } }],
    });
  });
  it('freely, with a decimal comma, without a pH pen', async () => {
    const { user } = open('/bench/new');
    const amount = await screen.findByLabelText('How much, L');
    await user.clear(amount);
    await user.type(amount, '1,5');
    await user.selectOptions(screen.getByLabelText('pH pen'), 'none: do not read pH');
    await user.click(screen.getByRole('button', { name: 'Read the water next' }));
    await waitFor(() => expect(sent[0]).toMatchObject({ mixKey: null, volumeL: 1.5, phMeterId: null }));
  });
  it('wants something to measure with, and warns of a dropper nobody counted', async () => {
    const { user } = open('/bench/new');
    await user.click(await screen.findByLabelText(/Glass dropper/));
    await user.click(screen.getByRole('button', { name: 'Read the water next' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('Choose a dropper or a syringe');
    await user.click(screen.getByLabelText(/Plastic dropper, not counted yet/));
    expect(screen.getByText(/20 drops to the mL is a guess/)).toBeInTheDocument();
    expect(sent).toEqual([]);
  });
  it('a recipe sets its parts, water and pH, and may be made unread when it earned that', async () => {
    onShelf = {
      ...shelf,
      bottles: [
        ...shelf.bottles,
        {
          id: 'calmag',
          productId: 'c',
          name: 'Calcium–magnesium syrup',
          kind: 'calmag',
          unit: 'mL',
          note: '',
          labelDose: null,
          strengthKnown: true,
          stock: null,
        },
      ],
    };
    const { user } = open('/bench/new?recipe=r');
    expect(await screen.findByLabelText('Name')).toHaveValue('Cal-mag, then feed');
    expect(screen.getByLabelText('mL (g) a litre, part 2')).toHaveValue('0.5');
    expect(await screen.findByText(/About 1 L of still water/)).toBeInTheDocument();
    await user.click(screen.getByLabelText(/By recipe, without reading each part/));
    await user.click(screen.getByRole('button', { name: 'Read the water next' }));
    await waitFor(() =>
      expect(sent[0]).toMatchObject({
        recipeId: 'r',
        waterId: 'tap',
        phLow: 5.6,
        byRecipe: true,
        parts: [
          { bottleId: 'feed', aim: { kind: 'net', ppm: 80 } },
          { bottleId: 'calmag', aim: { kind: 'perL', units: 0.5 } },
        ],
      }),
    );
  });
  it('a use brings its own strength, pH and hold; plain water has no parts', async () => {
    const { user } = open('/bench/new');
    await user.selectOptions(await screen.findByLabelText('Use'), 'short soak');
    expect(screen.getByLabelText('Aim over base, ppm')).toHaveValue('100');
    expect(screen.getByLabelText('pH from')).toHaveValue('6.5');
    expect(screen.getByLabelText('Hold, min')).toHaveValue('30');
    await user.selectOptions(screen.getByLabelText('Use'), 'plain water');
    expect(screen.queryByLabelText('Product')).not.toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Read the water next' }));
    await waitFor(() => expect(sent[0]).toMatchObject({ use: 'water', parts: [], holdMinutes: null }));
  });
  it('another product in the same can has an aim of its own, checked at its own field', async () => {
    onShelf = {
      ...shelf,
      bottles: [
        ...shelf.bottles,
        {
          id: 'calmag',
          productId: 'c',
          name: 'Calcium–magnesium syrup',
          kind: 'calmag',
          unit: 'mL',
          note: '',
          labelDose: null,
          strengthKnown: true,
          stock: null,
        },
      ],
    };
    const { user } = open('/bench/new');
    await user.click(await screen.findByRole('button', { name: /Another product/ }));
    const aim = screen.getByLabelText('Aim over base, ppm, part 2');
    expect(aim).toHaveValue('50');
    await user.clear(aim);
    await user.type(aim, '0');
    await user.click(screen.getByRole('button', { name: 'Read the water next' }));
    expect(await screen.findByRole('alert')).toHaveTextContent(/counted over the water/);
    expect(sent).toEqual([]);
  });
  it('a solid may come from the stock made earlier, while there is one', async () => {
    onShelf = {
      ...shelf,
      bottles: [
        {
          id: 'salt',
          productId: 'p',
          name: 'Epsom salt',
          kind: 'magnesium',
          unit: 'g',
          note: '',
          labelDose: null,
          strengthKnown: true,
          stock: { grams: 20, waterMl: 100, madeOn: '2026-11-22', leftMl: 62.4 },
        },
      ],
    };
    const { user } = open('/bench/new');
    await user.selectOptions(
      await screen.findByLabelText('A solid goes in'),
      'from the stock of 22 Nov, some 62 mL left',
    );
    await user.click(screen.getByRole('button', { name: 'Read the water next' }));
    await waitFor(() => expect(sent[0]).toMatchObject({ parts: [{ bottleId: 'salt', solid: 'made' }] }));
  });
  it('what was typed is still there after leaving', async () => {
    const first = open('/bench/new');
    await first.user.type(await screen.findByLabelText('Name'), ' for the porch');
    first.view.unmount();
    open('/bench/new');
    expect(await screen.findByLabelText('Name')).toHaveValue('Feed for the porch');
  });
  it('an empty shelf says what a batch needs', async () => {
    onShelf = { ...shelf, bottles: [] };
    open('/bench/new');
    expect(await screen.findByText(/needs a water, a feed and something to measure with/)).toBeInTheDocument();
  });
});
