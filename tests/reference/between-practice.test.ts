import { describe, expect, it } from 'vitest';
import {
  alkaliAt,
  asMade,
  curveOf,
  filledWith,
  natureOf,
  POTS_AT_LARGE,
  potPath,
  standAt,
  standingAtPh,
} from '../../src/core/drift/index.ts';
import { topUp } from '../../src/core/reservoir/index.ts';
import { anchoredAt, composition } from '../../src/core/solution/index.ts';

/* What the trade sees between two rounds. Source: common practice, no published source. */

const STILL = curveOf(anchoredAt(composition({ Na: 0.1, Cl: 0.06, CO2: 0.1 }), 7.05)!);
const FEED = curveOf(
  anchoredAt(composition({ Ca: 0.2, Mg: 0.08, K: 0.9, NO3: 0.95, NH4: 0.1, PO4: 0.2, CO2: 0.12, SO4: 0.05 }), 5.8)!,
);

describe('still water held in clay (common practice: 7.0 to 7.1 goes to 8.1 to 8.7 in half an hour to an hour)', () => {
  it('takes some hundredths of a meq/L: next to nothing, which is why the jump alone does not measure it', () => {
    const { carbonMmolL } = asMade(STILL);
    const needed = (ph: number) => alkaliAt(STILL, 1, carbonMmolL, ph) - alkaliAt(STILL, 1, carbonMmolL, 7.05);
    expect(needed(8.1)).toBeGreaterThan(0.005);
    expect(needed(8.7)).toBeLessThan(0.06);
    // 4 to 16 µeq in a pot of 250 mL and its pores bring it there.
    const held = (ueq: number) => standAt(STILL, { ...asMade(STILL), alkaliMeqL: ueq / 310 });
    expect(held(4)).toBeLessThan(8.7);
    expect(held(16)).toBeGreaterThan(8.1);
  });
});

describe('a feed between rounds', () => {
  it.each([5.5, 5.8, 6])(
    'poured at %d it reads 6.5 to 7 after two to four weeks (common practice), kept topped up as it drinks',
    (ph) => {
      const pot = filledWith(FEED, 250, 60);
      const water = { ...pot, standing: standingAtPh(FEED, pot.standing, ph) };
      // Clay at large, and a pot that is not let run dry.
      const nature = { ...natureOf(POTS_AT_LARGE, water, 1), uses: 4 / 250 };
      const path = potPath(water, nature, 28);
      expect(path[14]!.ph).toBeGreaterThan(6.3);
      expect(path[28]!.ph).toBeLessThan(7.3);
      expect(path[28]!.ph).toBeGreaterThan(ph + 0.4);
    },
  );
  it('half the volume gone is twice the strength, and plain water brings it back (common practice)', () => {
    const water = filledWith(FEED, 250, 0);
    const middle = natureOf(POTS_AT_LARGE, water, 1);
    const nature = { ...middle.nature, uptake: 0, clay: 0, atOnce: 0, gives: 0 };
    const half = potPath(water, { ...middle, nature, uses: 0.05, evenly: true }, 10).at(-1)!;
    expect(half.freeMl).toBeCloseTo(125, 6);
    expect(Math.abs(half.ecUsCm / FEED.ecUsCm - 2)).toBeLessThan(0.06);
    const up = topUp({ freeMl: half.freeMl, poreMl: 0, ecUsCm: half.ecUsCm, fillMl: 250 }, FEED.ecUsCm, 0)!;
    expect(up.what).toBe('plain');
    expect(Math.abs((up.afterEcUsCm * (125 + up.ml)) / 250 / FEED.ecUsCm - 1)).toBeLessThan(0.02);
  });
});
