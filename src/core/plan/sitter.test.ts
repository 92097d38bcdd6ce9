import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sitterPlan, type SitterPot } from './sitter.ts';

const pot = (id: string, more: Partial<SitterPot> = {}): SitterPot => ({
  id,
  holdMl: 250,
  perDayMl: 20,
  leftMl: 250,
  ...more,
});

describe('what a sitter is asked', () => {
  it('leaves alone what lasts', () => {
    const { before, visits } = sitterPlan([pot('a'), pot('b', { perDayMl: 10, leftMl: 200 })], 9);
    expect(before).toEqual([]);
    expect(visits).toEqual([]);
  });
  it('fills up before going what a full pot would last for', () => {
    const { before, visits } = sitterPlan([pot('a', { leftMl: 100 })], 9);
    expect(before).toEqual([{ id: 'a', ml: 150 }]);
    expect(visits).toEqual([]);
  });
  it('asks for the fewest visits, each as late as may be', () => {
    // Of 330 mL at 60 a day 280 are drunk in four days and a half.
    const { visits } = sitterPlan([pot('basil', { holdMl: 330, perDayMl: 60, leftMl: 330 }), pot('fern')], 9);
    expect(visits.map(({ day }) => day)).toEqual([4, 8]);
    expect(visits[0]!.pots.map(({ id }) => id)).toEqual(['basil']);
  });
  it('a pot that drinks nothing is never watered; one that drinks more than it holds once a day', () => {
    expect(sitterPlan([pot('a', { perDayMl: 0 })], 90).visits).toEqual([]);
    const { visits } = sitterPlan([pot('c', { perDayMl: 400 })], 3);
    // On the first morning it is full.
    expect(visits.map(({ day }) => day)).toEqual([1, 2]);
  });
  it('property: nobody is dry who can be helped, nobody gets more than it holds', () => {
    const pots = fc.array(
      fc.record({
        holdMl: fc.integer({ min: 100, max: 400 }),
        perDayMl: fc.integer({ min: 0, max: 60 }),
        full: fc.double({ min: 0.2, max: 1, noNaN: true }),
      }),
      { minLength: 1, maxLength: 8 },
    );
    fc.assert(
      fc.property(pots, fc.integer({ min: 1, max: 30 }), (drawn, days) => {
        const of = drawn.map(({ holdMl, perDayMl, full }, n) => ({
          id: `${n}`,
          holdMl,
          perDayMl,
          leftMl: full * holdMl,
        }));
        const { before, visits } = sitterPlan(of, days);
        for (const one of of) {
          let left = one.leftMl + (before.find(({ id }) => id === one.id)?.ml ?? 0);
          expect(left).toBeLessThanOrEqual(one.holdMl + 1e-9);
          for (let day = 0; day < days; day++) {
            left += visits.find((visit) => visit.day === day)?.pots.find(({ id }) => id === one.id)?.ml ?? 0;
            expect(left).toBeLessThanOrEqual(one.holdMl + 1e-9);
            left -= one.perDayMl;
          }
          // Down to the step the jug is filled by.
          expect(left).toBeGreaterThanOrEqual(-10);
        }
      }),
    );
  });
});
