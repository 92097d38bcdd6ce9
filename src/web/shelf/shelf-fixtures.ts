import type { ShelfRoom, ShelfValues } from '../../contract/shelf.ts';

/* Things on a shelf for component tests, each with everything it must have. */

export function aWater(more: Partial<ShelfValues<'water'>>): ShelfValues<'water'> {
  return {
    name: 'Water',
    note: '',
    kind: 'other',
    tankL: null,
    perDayL: null,
    chlorine: 'unknown',
    costPerL: null,
    known: null,
    ...more,
  };
}

export function aMeter(
  id: string,
  values: Partial<ShelfValues<'meter'>>,
  more: Partial<ShelfRoom['meters'][number]> = {},
): ShelfRoom['meters'][number] {
  return {
    id,
    retiredOn: null,
    uses: 3,
    values: {
      name: 'Pen',
      kind: 'pen',
      quantity: 'ppm',
      unit: 'ppm',
      scale: 0.5,
      scaleFrom: 'label',
      resolution: 1,
      compensated: true,
      checkEveryDays: 30,
      condition: 'fine',
      ...values,
    },
    simulated: false,
    checks: [],
    offset: null,
    slope: null,
    lastGoodOn: null,
    wouldTaintFromOn: null,
    dueOn: null,
    taints: [],
    ...more,
  };
}

export function aProduct(
  id: string,
  values: Partial<ShelfValues<'product'>>,
  more: Partial<ShelfRoom['products'][number]> = {},
): ShelfRoom['products'][number] {
  return {
    id,
    retiredOn: null,
    uses: 0,
    values: {
      name: 'Feed',
      shortName: 'feed',
      kind: 'feed',
      label: '',
      caution: '',
      recipe: null,
      analysis: null,
      hydroponics: 'unsaid',
      topDoseMlL: null,
      longestDays: null,
      slowsGrowth: false,
      ...values,
    },
    bottle: null,
    learned: null,
    strength: { known: false, why: 'No recipe yet.' },
    ...more,
  };
}
