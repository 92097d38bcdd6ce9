import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NOTHING_READ } from './pots-fixtures.ts';
import { filterPots, readFilter, SORTS, type PlacedPot } from './pot-filters.ts';

const pot = (code: string, order: number, more: Partial<PlacedPot> = {}): PlacedPot => ({
  id: code,
  code,
  name: 'Hoya',
  plant: 'Hoya',
  spot: '',
  clay: null,
  reservoirMl: 250,
  sensitivity: 'usual',
  regimenId: 'r1',
  regimen: 'Weekly',
  due: { dueOn: '2026-11-25', status: 'due', daysLate: 0, pastLimit: 0, words: 'due' },
  drawing: { level: 0.5, levelIsGuess: false, phLow: 5.5, phHigh: 6.5, salts: 0, stage: 'growth', form: 'clay' },
  lastPouredPpm: 100,
  lastCameOut: { ppm: 150, ph: 6.4, on: '2026-11-18' },
  ...NOTHING_READ,
  placeId: 'sill',
  place: 'East sill',
  order,
  today: '2026-11-25',
  ...more,
});
const pots = [
  pot('A-2', 0, {
    lastCameOut: null,
    due: { dueOn: '2026-11-23', status: 'late', daysLate: 2, pastLimit: 0, words: '2 d late' },
  }),
  pot('A-10', 1, {
    name: 'Aunt Posy',
    plant: 'Begonia',
    placeId: 'porch',
    place: 'Cool porch',
    lastCameOut: { ppm: 210, ph: 7.1, on: '2026-11-18' },
  }),
  pot('B-1', 2, {
    drawing: { ...pot('x', 0).drawing, stage: 'bloom', form: 'water' },
    due: { dueOn: '2026-11-28', status: 'later', daysLate: -3, pastLimit: 0, words: 'in 3 d' },
  }),
];
const codes = (query: string) => filterPots(pots, readFilter(new URLSearchParams(query))).map((p) => p.code);

describe('filters and order, from the address', () => {
  it.each([
    ['', ['A-2', 'A-10', 'B-1']],
    ['q=posy', ['A-10']],
    ['q=begonia porch', ['A-10']],
    ['q=water only', ['B-1']],
    ['place=porch&place=sill&stage=bloom', ['B-1']],
    ['sort=shelf&state=due', ['A-2', 'A-10']],
    ['sort=code', ['A-2', 'A-10', 'B-1']],
    ['sort=code&down=1', ['B-1', 'A-10', 'A-2']],
    ['sort=due', ['A-2', 'A-10', 'B-1']],
    ['sort=ph', ['B-1', 'A-10', 'A-2']],
    ['sort=ph&down=1', ['A-10', 'B-1', 'A-2']],
    ['sort=nonsense', ['A-2', 'A-10', 'B-1']],
  ])('%s', (query, expected) => expect(codes(query)).toEqual(expected));
  it('any order keeps every pot once, and unread figures last', () => {
    const many = fc.array(
      fc.record({ ph: fc.option(fc.double({ min: 4, max: 9, noNaN: true })), late: fc.integer({ min: -9, max: 9 }) }),
      { maxLength: 30 },
    );
    fc.assert(
      fc.property(many, fc.constantFrom(...SORTS), fc.boolean(), (list, sort, down) => {
        const all = list.map(({ ph, late }, i) =>
          pot(`C-${i}`, i, {
            lastCameOut: ph === null ? null : { ppm: null, ph, on: '2026-11-18' },
            due: { ...pot('x', 0).due, daysLate: late },
          }),
        );
        const found = filterPots(all, readFilter(new URLSearchParams({ sort, ...(down ? { down: '1' } : {}) })));
        expect(new Set(found.map((p) => p.id)).size).toBe(all.length);
        if (sort === 'ph') {
          const firstUnread = found.findIndex((p) => p.lastCameOut === null);
          if (firstUnread >= 0) expect(found.slice(firstUnread).every((p) => p.lastCameOut === null)).toBe(true);
        }
      }),
    );
  });
});
