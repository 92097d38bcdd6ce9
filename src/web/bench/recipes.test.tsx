import { screen, waitFor, within } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { openPage, refusal } from '../../../tests/component-page.tsx';
import type { RecipeBook, RecipeView } from '../../contract/recipes.ts';
import type { ShelfRoom, ShelfView } from '../../contract/shelf.ts';
import { AimsSolver } from './aims-solver.tsx';
import { CardPage, RecipePage, RecipesPage } from './index.ts';
import { calmagPart, feedPart, view } from './bench-fixtures.ts';

afterEach(() => vi.unstubAllGlobals());

const recipe = (id: string, name: string, more: Partial<RecipeView> = {}): RecipeView => ({
  id,
  values: {
    name,
    use: 'feed',
    parts: [{ productId: 'p', aim: { kind: 'net', ppm: 90 }, solid: 'stock' }],
    waterId: null,
    phLow: 5.5,
    phHigh: 6.5,
    holdMinutes: null,
    note: '',
  },
  retiredOn: null,
  made: { times: 5, right: 4, unread: 0, lastOn: '2026-11-23' },
  parts: [{ productId: 'p', name: 'House feed', aimWords: '90 over base' }],
  brings: [
    { element: 'N', mgL: 19.4 },
    { element: 'Ca', mgL: 6.9 },
  ],
  netPpm: 90,
  ...more,
});
const rule = (use: 'feed' | 'soak' | 'spray' | 'water') => ({
  use,
  values: {
    netPpm: use === 'water' ? 0 : 90,
    bandIn: 'percent' as const,
    below: 10,
    above: 20,
    hard: 40,
    phLow: 5.5,
    phHigh: 6.5,
    holdMinutes: null,
  },
  staying: null,
  since: null,
  earlier: [],
});
const book = (recipes: RecipeView[]): RecipeBook => ({
  recipes,
  rules: (['feed', 'soak', 'spray', 'water'] as const).map(rule),
});
const shelf: ShelfView = {
  waters: [{ id: 'still', name: 'Still water', note: '', kind: 'still', lastBasePpm: 9 }],
  vessels: [{ id: 'jug', name: 'Jug', capacityL: 5, material: 'plastic' }],
  bottles: [
    {
      id: 'b',
      productId: 'p',
      name: 'House feed',
      kind: 'feed',
      unit: 'mL',
      note: '',
      labelDose: null,
      strengthKnown: true,
      stock: null,
    },
    {
      id: 'e',
      productId: 'q',
      name: 'Epsom salt',
      kind: 'magnesium',
      unit: 'g',
      note: '',
      labelDose: null,
      strengthKnown: true,
      stock: null,
    },
  ],
  tools: [],
  meters: [],
};

describe('recipes', () => {
  it('say what goes in, how often they came out right, and are put away and taken up', async () => {
    const { user, asked } = openPage(<RecipesPage />, {
      '/api/bench/recipes': book([
        recipe('r', 'Can for the sill'),
        recipe('s', 'Old can', { retiredOn: '2026-10-01' }),
      ]),
    });
    expect(await screen.findByText(/made 5 times, right 4 of the 5 read, last on 23 Nov 2026/)).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'Make it' })).toHaveAttribute('href', '/bench/new?recipe=r');
    await user.click(screen.getByRole('button', { name: 'Put away' }));
    await user.click(screen.getByText('Put away: 1'));
    await user.click(screen.getByRole('button', { name: 'Take it up again' }));
    expect(asked.map((a) => a.body)).toEqual([
      { kind: 'retire', id: 'r' },
      { kind: 'bringBack', id: 's' },
    ]);
  });
  it('stand side by side with what they bring', async () => {
    const without = recipe('s', 'Unlabelled', {
      brings: null,
      netPpm: null,
      made: { times: 0, right: 0, unread: 0, lastOn: null },
    });
    const { user } = openPage(<RecipesPage />, {
      '/api/bench/recipes': book([recipe('r', 'Can for the sill'), without]),
    });
    for (const box of await screen.findAllByLabelText('compare')) await user.click(box);
    const table = within(screen.getByRole('region', { name: 'Side by side' }));
    expect(table.getByRole('row', { name: /nitrogen 19 no label/ })).toBeInTheDocument();
    expect(table.getByRole('row', { name: /calcium 6\.9 no label/ })).toBeInTheDocument();
    expect(table.getByRole('row', { name: /came out right 4 of 5 —/ })).toBeInTheDocument();
  });
  it('none yet is said, with the way to the first', async () => {
    openPage(<RecipesPage />, { '/api/bench/recipes': book([]) });
    expect(await screen.findByText('No recipe is kept yet')).toBeInTheDocument();
  });
  it('a use’s rule is changed, and what is wrong with it stands at its field', async () => {
    const { user, asked, stand } = openPage(<RecipesPage />, { '/api/bench/recipes': book([]) });
    await user.click(await screen.findByRole('button', { name: 'Change short soak' }));
    stand.answer = () => refusal([{ path: 'values.hard', message: 'The limit lies above the top of the band.' }]);
    const hard = screen.getByLabelText('Never past, above');
    await user.clear(hard);
    await user.type(hard, '5');
    await user.click(screen.getByRole('button', { name: 'Keep it from now on' }));
    expect(await screen.findByText('The limit lies above the top of the band.')).toBeInTheDocument();
    expect(asked[0]!.body).toMatchObject({
      kind: 'rule',
      use: 'soak',
      values: { hard: 5, bandIn: 'percent', holdMinutes: null },
    });
  });
});

const at = (path: string, pattern: string, page: React.ReactNode, reads: Record<string, unknown>) =>
  openPage(
    <Routes>
      <Route path={pattern} element={page} />
      <Route path="/bench/recipes" element={<h1>the recipes</h1>} />
    </Routes>,
    reads,
    path,
  );
const reads = { '/api/shelf': shelf, '/api/shelf/room': { products: [] } };

describe('a recipe of one’s own', () => {
  it('is kept with its parts, and goes back to the list', async () => {
    const { user, asked } = at('/bench/recipes/new', '/bench/recipes/:recipeId', <RecipePage />, {
      ...reads,
      '/api/bench/recipes': book([]),
    });
    await user.type(await screen.findByLabelText('Name'), 'Sill can');
    await user.click(screen.getByRole('button', { name: 'Keep the recipe' }));
    expect(await screen.findByRole('heading', { name: 'the recipes' })).toBeInTheDocument();
    expect(asked[0]!.body).toMatchObject({
      kind: 'put',
      values: {
        name: 'Sill can',
        use: 'feed',
        parts: [{ productId: 'p', aim: { kind: 'net', ppm: 90 } }],
        waterId: null,
        phLow: 5.5,
      },
    });
  });
  it('takes over what a batch was made by', async () => {
    const batch = { ...view, name: 'Sunday can', parts: [calmagPart, { ...feedPart, aim: null, doseUnits: 1.3 }] };
    at(`/bench/recipes/new?batch=${view.id}`, '/bench/recipes/:recipeId', <RecipePage />, {
      ...reads,
      '/api/bench/recipes': book([]),
      [`/api/bench/batches/${view.id}`]: { ...batch, parts: [{ ...batch.parts[0], productId: 'q' }, batch.parts[1]] },
    });
    expect(await screen.findByLabelText('Name')).toHaveValue('Sunday can');
    expect(screen.getByLabelText('Aim over base, ppm')).toHaveValue('50');
    expect(screen.getByLabelText('mL (g) a litre, part 2')).toHaveValue('0.5');
  });
  it('is changed where it stands; without a name it is not kept', async () => {
    const { user, asked } = at('/bench/recipes/r', '/bench/recipes/:recipeId', <RecipePage />, {
      ...reads,
      '/api/bench/recipes': book([recipe('r', 'Can')]),
    });
    const name = await screen.findByLabelText('Name');
    await user.clear(name);
    await user.click(screen.getByRole('button', { name: 'Keep the recipe' }));
    expect(await screen.findByText('Give the recipe a name.')).toBeInTheDocument();
    await user.type(name, 'Can, weaker');
    await user.click(screen.getByRole('button', { name: 'Keep the recipe' }));
    await waitFor(() =>
      expect(asked[0]?.body).toMatchObject({ kind: 'put', id: 'r', values: { name: 'Can, weaker' } }),
    );
  });
});

describe('doses worked out from what is wanted', () => {
  const product = (id: string, name: string, form: 'liquid' | 'powder', percent: object, price: number | null) => ({
    id,
    retiredOn: null,
    values: {
      name,
      kind: 'feed',
      analysis: { form, basis: 'w/w', densityGMl: form === 'liquid' ? 1.2 : null, percent, thinned: 1 },
      topDoseMlL: null,
    },
    bottle: { sizeMl: 500, price },
  });
  const room = {
    products: [
      product('p', 'House feed', 'liquid', { 'NO3-N': 5, K2O: 9, CaO: 3 }, 10),
      product('q', 'Epsom salt', 'powder', { Epsom: 100 }, 3),
    ],
  } as unknown as ShelfRoom;

  it('names the products and the misfit, and hands the doses over', async () => {
    const use = vi.fn();
    const { user } = openPage(<AimsSolver onUse={use} />, { '/api/shelf/room': room });
    await screen.findByLabelText('Epsom salt');
    await user.type(screen.getByLabelText('magnesium, mg/L'), '22');
    const nearest = within(await screen.findByRole('region', { name: 'Nearest to all of it' }));
    expect(nearest.getByText(/magnesium 22 of 22\. All met\./)).toBeInTheDocument();
    await user.click(nearest.getByRole('button', { name: /Use these doses/ }));
    expect(use).toHaveBeenCalledWith([
      { productId: 'q', aimKind: 'perL', amount: '0.223', element: 'Mg', solid: 'stock' },
    ]);
  });
  it('says honestly what cannot be met, and when nothing brings it', async () => {
    const { user } = openPage(<AimsSolver onUse={vi.fn()} />, { '/api/shelf/room': room });
    await user.click(await screen.findByLabelText('Epsom salt'));
    await user.type(screen.getByLabelText('magnesium, mg/L'), '22');
    expect(await screen.findByRole('alert')).toHaveTextContent(/None of the products brings/);
    await user.click(screen.getByLabelText('Epsom salt'));
    await user.type(screen.getByLabelText('nitrogen, mg/L'), '40');
    await user.type(screen.getByLabelText('calcium, mg/L'), '200');
    expect(await screen.findByText(/Misses by \d+ % on the whole/)).toBeInTheDocument();
  });
});

it('the mixing card has every step in its order with what it should read, and a label for the rest', async () => {
  at(`/bench/${view.id}/card`, '/bench/:batchId/card', <CardPage />, {
    [`/api/bench/batches/${view.id}`]: { ...view, parts: [calmagPart, feedPart], holdMinutes: 30, use: 'soak' },
  });
  const card = within(await screen.findByRole('article', { name: 'Mixing card' }));
  expect(card.getAllByRole('rowheader').map((r) => r.textContent)).toEqual([
    'The plain water',
    expect.stringMatching(/^Calcium–magnesium syrup/),
    expect.stringMatching(/^House feed/),
    expect.stringMatching(/^pH/),
    'Hold',
  ]);
  expect(card.getByRole('row', { name: /House feed.*149/ })).toBeInTheDocument();
  expect(card.getByText(/reads ____ · pH ____/)).toBeInTheDocument();
});
