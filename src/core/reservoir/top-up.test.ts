import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { topUp } from './index.ts';

describe('a top-up in a hurry', () => {
  it('half the volume gone was twice the strength; the same volume of plain water brings it back', () => {
    const low = { freeMl: 100, poreMl: 0, ecUsCm: 400, fillMl: 250 };
    expect(topUp(low, 200, 0)).toEqual({ what: 'plain', ml: 50, afterEcUsCm: (100 * 400) / 150 });
  });
  it('feed only where it has grown weaker than its feed; nothing where there is enough', () => {
    expect(topUp({ freeMl: 50, poreMl: 60, ecUsCm: 150, fillMl: 250 }, 200, 18)!.what).toBe('feed');
    expect(topUp({ freeMl: 160, poreMl: 60, ecUsCm: 150, fillMl: 250 }, 200, 18)).toBeUndefined();
    expect(() => topUp({ freeMl: 50, poreMl: 60, ecUsCm: 150, fillMl: 0 }, 200, 18)).toThrow(/fill/);
  });
  it('keeps the salt: what was there and what came in is what is there', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 100, noNaN: true }),
        fc.double({ min: 20, max: 900, noNaN: true }),
        (freeMl, ecUsCm) => {
          const up = topUp({ freeMl, poreMl: 60, ecUsCm, fillMl: 250 }, 200, 18)!;
          const added = up.what === 'plain' ? 18 : 200;
          expect(up.afterEcUsCm * (freeMl + 60 + up.ml)).toBeCloseTo((freeMl + 60) * ecUsCm + up.ml * added, 6);
        },
      ),
    );
  });
});
