import { expect, it } from 'vitest';
import { readShare, recipeOnScale, regimenOnScale, SHARE_FORMAT } from './share.ts';
import type { RegimenValues } from './regimens.ts';

const recipe = {
  name: 'Feed',
  use: 'feed' as const,
  parts: [
    {
      productId: '00000000-0000-4000-8000-000000000001',
      aim: { kind: 'net' as const, ppm: 90 },
      solid: 'stock' as const,
    },
    {
      productId: '00000000-0000-4000-8000-000000000002',
      aim: { kind: 'perL' as const, units: 0.5 },
      solid: 'stock' as const,
    },
  ],
  waterId: null,
  phLow: 5.5,
  phHigh: 6.5,
  holdMinutes: null,
  note: '',
};
const file = (more: object) => JSON.stringify({ format: SHARE_FORMAT, version: 1, scale: 0.5, ...more });

it('a recipe is read again as it was written; on another pen’s scale only its strengths differ', () => {
  const read = readShare(file({ kind: 'recipe', values: recipe, products: [] }));
  expect(read).toMatchObject({ ok: true, file: { kind: 'recipe', values: recipe } });
  const other = recipeOnScale(recipe, 0.7 / 0.5);
  expect(other.parts.map(({ aim }) => aim)).toEqual([
    { kind: 'net', ppm: 126 },
    { kind: 'perL', units: 0.5 },
  ]);
  expect(recipeOnScale(other, 0.5 / 0.7)).toEqual(recipe);
});

it('a regimen’s plain waterings stay plain on any scale', () => {
  const values = {
    feeds: [{ netPpm: 0 }, { netPpm: 90 }],
    soaks: [{ netPpm: null }, { netPpm: 100 }],
  } as unknown as RegimenValues;
  const other = regimenOnScale(values, 1.4);
  expect(other.feeds.map(({ netPpm }) => netPpm)).toEqual([0, 126]);
  expect(other.soaks.map(({ netPpm }) => netPpm)).toEqual([null, 140]);
});

const clay = {
  kind: 'clay',
  model: 1,
  values: { name: 'a bag', grainLowMm: 8, grainHighMm: 16, volumeL: 6 },
  found: { bagId: '0b9f4a52-6a1e-4c1b-9d11-2f3b8c7d6e5f', readings: 4, changes: 3, mean: [0.1], covariance: [[1]] },
};
it('what a bag of clay was found to do is read again as it was written', () =>
  expect(readShare(file(clay))).toMatchObject({ ok: true, file: clay }));

it.each([
  ['clay of another model', file({ ...clay, model: 2 }), /another version of Frugal Sip/],
  ['clay that was hardly read', file({ ...clay, found: { ...clay.found, readings: 1 } }), /found\.readings/],
  ['half a file', file({ kind: 'recipe', values: recipe, products: [] }).slice(0, 80), /not whole, or of another kind/],
  ['another kind of file', '{"format":"Frugal Sip collection"}', /whole collection is brought in above/],
  ['a list', '[1,2]', /no file that Frugal Sip shared/],
  ['nothing', 'null', /no file that Frugal Sip shared/],
  ['a later version', JSON.stringify({ format: SHARE_FORMAT, version: 2 }), /later version/],
  [
    'a figure out of bounds',
    file({ kind: 'recipe', values: { ...recipe, phLow: 99 }, products: [] }),
    /values\.phLow.*Between pH 3 and 9/,
  ],
])('%s is refused, with why', (_what, text, message) => {
  const read = readShare(text);
  expect(read.ok).toBe(false);
  expect(read.ok ? '' : read.message).toMatch(message);
});
