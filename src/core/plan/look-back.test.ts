import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { litresLearned, outcomeOf } from './look-back.ts';
import { drawsBy } from './search.ts';

const fill = (on: string, hour = 10) => ({ at: `${on}T${hour}:00:00.000Z`, on });

describe('a watering as planned and as done', () => {
  const planned = { on: '2026-03-10', previousOn: '2026-03-03', madeAt: '2026-03-01T08:00:00.000Z' };
  it('is on its day, sooner, later, or not yet', () => {
    expect(outcomeOf(planned, [fill('2026-03-03'), fill('2026-03-10')])).toEqual({ kind: 'onDay' });
    expect(outcomeOf(planned, [fill('2026-03-03'), fill('2026-03-08')])).toEqual({ kind: 'sooner', days: 2 });
    expect(outcomeOf(planned, [fill('2026-03-03'), fill('2026-03-13')])).toEqual({ kind: 'later', days: 3 });
    expect(outcomeOf(planned, [fill('2026-03-03')])).toEqual({ kind: 'notYet' });
  });
  it('is not the filling from before the plan was made, on the same morning', () => {
    const first = { on: '2026-03-01', previousOn: null, madeAt: '2026-03-01T11:00:00.000Z' };
    expect(outcomeOf(first, [fill('2026-03-01', 10)])).toEqual({ kind: 'notYet' });
    expect(outcomeOf(first, [fill('2026-03-01', 10), fill('2026-03-01', 12)])).toEqual({ kind: 'onDay' });
  });
});

describe('litres foretold against litres drawn', () => {
  const days = (of: readonly [number, number][]) => of.map(([foretoldL, drawnL]) => ({ foretoldL, drawnL }));
  it('say nothing of a few days', () => {
    expect(
      litresLearned(
        days([
          [4, 5],
          [4, 5],
          [4, 5],
          [0, 1],
        ]),
      ),
    ).toBeNull();
    expect(litresLearned([])).toBeNull();
  });
  it('are believed where every day says the same', () => {
    const found = litresLearned(days(Array.from({ length: 8 }, () => [4, 5])))!;
    expect(found.times).toBeCloseTo(1.25, 6);
    expect(found.days).toBe(8);
  });
  it('are believed the less the more they scatter', () => {
    const steady = litresLearned(
      days([
        [4, 4.9],
        [5, 6.2],
        [4, 5.1],
        [5, 6.3],
        [4, 5],
        [5, 6.25],
      ]),
    )!;
    const wild = litresLearned(
      days([
        [4, 0.5],
        [5, 11],
        [4, 2],
        [5, 12],
        [4, 1],
        [5, 7.25],
      ]),
    )!;
    expect(wild.times).toBeLessThan(steady.times);
    expect(wild.high - wild.low).toBeGreaterThan(steady.high - steady.low);
  });
  it('count what was mixed the evening before', () => {
    const shifted = litresLearned(
      days([
        [0, 4],
        [4, 0],
        [4, 4],
        [0, 4],
        [4, 0],
        [4, 4],
        [4, 4],
      ]),
    )!;
    expect(shifted.times).toBeCloseTo(1, 6);
  });
  it.each([
    ['as the prior has it', 0.15, 0.15, 0],
    ['off by a third and more', 0.3, 0.15, 0],
    ['of wild scatter', 0.15, 0.4, 0],
    ['one mix in three made the evening before', 0.15, 0.15, 0.33],
  ])(
    'hold what is true about nine times in ten in a world %s, of a few days as of many',
    (_, lnSd, scatter, before) => {
      const draw = drawsBy(11);
      const normal = () => Math.sqrt(-2 * Math.log(1 - draw())) * Math.cos(2 * Math.PI * draw());
      for (const n of [5, 8, 28]) {
        let held = 0;
        for (let k = 0; k < 600; k++) {
          const truth = Math.exp(lnSd * normal());
          const list = Array.from({ length: 2 * n }, (_d, d) => ({ foretoldL: d % 2 ? 0 : 1 + 9 * draw(), drawnL: 0 }));
          list.forEach(({ foretoldL }, d) => {
            const on = d > 0 && draw() < before ? d - 1 : d;
            list[on]!.drawnL += foretoldL * truth * Math.max(0.05, 1 + scatter * normal());
          });
          const { low, high } = litresLearned(list)!;
          if (low <= truth && truth <= high) held++;
        }
        expect(held / 600, `${n} days`).toBeGreaterThan(0.8);
      }
    },
  );
  it('never leave what can be, and their range holds what is told', () => {
    const day = fc.record({
      foretoldL: fc.double({ min: 0, max: 40, noNaN: true }),
      drawnL: fc.double({ min: 0, max: 400, noNaN: true }),
    });
    fc.assert(
      fc.property(fc.array(day, { maxLength: 28 }), (list) => {
        const found = litresLearned(list);
        if (!found) return;
        expect(found.low).toBeLessThanOrEqual(found.times);
        expect(found.high).toBeGreaterThanOrEqual(found.times);
        expect(found.times).toBeGreaterThanOrEqual(0.5);
        expect(found.times).toBeLessThanOrEqual(2);
      }),
    );
  });
});
