import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plusDays } from '../regimen/index.ts';
import { waterStock } from './index.ts';

const tank = { countedL: 14, countedOn: '2026-11-20', perDayL: 9, tankL: 25 };

describe('what stands in the tank', () => {
  it('is what was seen, on the day it was seen, less what was drawn after', () => {
    expect(waterStock(tank, [], '2026-11-20')).toEqual({ litres: 14, madeL: 0, usedL: 0 });
    expect(waterStock(tank, [{ on: '2026-11-20', litres: 2.5 }], '2026-11-20')).toEqual({
      litres: 11.5,
      madeL: 0,
      usedL: 2.5,
    });
  });
  it('fills up day by day, to the brim and no further', () => {
    expect(waterStock(tank, [], '2026-11-21')).toEqual({ litres: 23, madeL: 9, usedL: 0 });
    expect(waterStock(tank, [], '2026-11-30')).toEqual({ litres: 25, madeL: 11, usedL: 0 });
    expect(waterStock({ ...tank, tankL: null }, [], '2026-11-22').litres).toBe(32);
  });
  it('what was drawn makes room for what is made after it', () => {
    // 14, made 9 → 23, drawn 20 → 3, made 9 → 12.
    expect(waterStock(tank, [{ on: '2026-11-21', litres: 20 }], '2026-11-22')).toEqual({
      litres: 12,
      madeL: 18,
      usedL: 20,
    });
  });
  it('refuses a look that lies ahead', () => {
    expect(() => waterStock(tank, [], '2026-11-19')).toThrow(/after today/);
  });
  it('never holds less than nothing or more than it can, and what went in and out adds up while it neither ran dry nor over', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 25, noNaN: true }),
        fc.double({ min: 0, max: 12, noNaN: true }),
        fc.array(fc.record({ day: fc.nat({ max: 20 }), litres: fc.double({ min: 0, max: 8, noNaN: true }) }), {
          maxLength: 12,
        }),
        fc.nat({ max: 20 }),
        (countedL, perDayL, draws, days) => {
          const drawn = draws
            .filter((d) => d.day <= days)
            .map((d) => ({ on: plusDays('2026-11-20', d.day), litres: d.litres }));
          const stock = waterStock(
            { countedL, countedOn: '2026-11-20', perDayL, tankL: 25 },
            drawn,
            plusDays('2026-11-20', days),
          );
          expect(stock.litres).toBeGreaterThanOrEqual(0);
          expect(stock.litres).toBeLessThanOrEqual(25 + 1e-9);
          // Made counts only what found room, so only running dry can break the sum.
          expect(stock.litres).toBeGreaterThanOrEqual(countedL + stock.madeL - stock.usedL - 1e-6);
        },
      ),
    );
  });
});
