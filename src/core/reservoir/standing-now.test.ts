import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { standingNow, type SinceFilled, type StandingNow } from './standing-now.ts';

const COURSE: Record<string, StandingNow> = {
  '2026-11-20': { ecUsCm: 200, ph: 5.8, leftMl: 200 },
  '2026-11-22': { ecUsCm: 240, ph: 6.1, leftMl: 150 },
  '2026-11-25': { ecUsCm: 300, ph: 6.4, leftMl: 100 },
};
const courseOn = (day: string) => COURSE[day]!;
const now = (...since: SinceFilled[]) => standingNow(courseOn, '2026-11-25', since, 20);

describe('what stands in a reservoir now', () => {
  it('is its course where nothing happened since', () => expect(now()).toEqual(COURSE['2026-11-25']));

  it('goes on from what was found: strength and water in proportion, pH by as much', () => {
    const found = now({ kind: 'read', on: '2026-11-22', found: { ecUsCm: 264, ph: 6.3, leftMl: 120 } });
    expect(found.ecUsCm).toBeCloseTo(330);
    expect(found.ph).toBeCloseTo(6.6);
    expect(found.leftMl).toBeCloseTo(80);
  });

  it('is as found when it is read today, whatever was foretold', () =>
    expect(now({ kind: 'read', on: '2026-11-25', found: { ecUsCm: 410, ph: 6.9, leftMl: 60 } })).toEqual({
      ecUsCm: 410,
      ph: 6.9,
      leftMl: 60,
    }));

  it('keeps the foretold figure of what was not read', () => {
    const { ecUsCm, leftMl, ph } = now({ kind: 'read', on: '2026-11-25', found: { ph: 7 } });
    expect([ecUsCm, leftMl, ph]).toEqual([300, 100, 7]);
  });

  it('where nothing is foretold, what was found stands, and nothing is made up beside it', () =>
    expect(
      standingNow(() => ({}), '2026-11-25', [{ kind: 'read', on: '2026-11-22', found: { ecUsCm: 250 } }], 20),
    ).toEqual({ ecUsCm: 250 }));

  it('a reading after a top-up has the top-up in it; one before it is thinned by it', () => {
    const topUp: SinceFilled = { kind: 'toppedUp', on: '2026-11-25', ml: 100 };
    const read: SinceFilled = { kind: 'read', on: '2026-11-25', found: { ecUsCm: 320, leftMl: 100 } };
    expect(now(topUp, read)).toMatchObject({ ecUsCm: 320, leftMl: 100 });
    expect(now(read, topUp)).toMatchObject({ ecUsCm: 170, leftMl: 200 });
  });

  it('topping up adds water and no salt beyond the water’s own', () =>
    fc.assert(
      fc.property(fc.array(fc.double({ min: 1, max: 500, noNaN: true }), { minLength: 1, maxLength: 5 }), (pours) => {
        const { ecUsCm, leftMl } = now(...pours.map((ml): SinceFilled => ({ kind: 'toppedUp', on: '2026-11-25', ml })));
        const poured = pours.reduce((sum, ml) => sum + ml, 0);
        expect(leftMl).toBeCloseTo(100 + poured, 6);
        expect(ecUsCm! * leftMl!).toBeCloseTo(300 * 100 + 20 * poured, 4);
      }),
    ));
});
