import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  anchoredAt,
  expectedBatch,
  readLabel,
  solve,
  waterAtReading,
  waterFromSigns,
  type BatchMake,
  type KnownWater,
  type ExpectedBatch,
} from './index.ts';
import { composition } from './composition.ts';

const water = (ecUsCm: number, kit: number | null): KnownWater => {
  const known = waterFromSigns({
    ecUsCm,
    ph: null,
    alkalinityMeqL: kit,
    hardnessMeqL: null,
    kind: kit === null ? 'still' : 'tap',
  });
  if (!known.ok) throw new Error(known.message);
  return known;
};
const feed = readLabel({
  form: 'liquid',
  basis: 'w/w',
  densityGMl: 1.2,
  percent: { 'NO3-N': 5, 'NH4-N': 1, P2O5: 3, K2O: 9, CaO: 3, MgO: 1.1, SO3: 1, Fe: 0.05 },
  thinned: 2,
});
const make = (of: KnownWater, netEcUsCm: number | null, doseMlL = 0.6): BatchMake => {
  if (!feed.ok) throw new Error('label');
  return { water: of, products: [{ perUnit: feed.perUnit, doseMlL, gap: feed.gap }], netEcUsCm, volumeL: 4 };
};
const predicted = (batch: BatchMake): ExpectedBatch => {
  const answer = expectedBatch(batch);
  if (!answer.ok) throw new Error(answer.message);
  return answer;
};

describe('a batch before its acid', () => {
  it('meets what the pen read, whatever the label says', () => {
    fc.assert(
      fc.property(fc.double({ min: 80, max: 500, noNaN: true }), (net) => {
        const base = solve(water(18, null).composition);
        expect(predicted(make(water(18, null), net)).ecUsCm - (base.ok ? base.ecUsCm : 0)).toBeCloseTo(net, 0);
      }),
      { numRuns: 30 },
    );
  });
  it('is surer of a water somebody tested than of one nobody did', () => {
    const [tested, guessed] = [
      predicted(make(water(424, 2.85), 180)),
      predicted(
        make(
          waterFromSigns({
            ecUsCm: 424,
            ph: null,
            alkalinityMeqL: null,
            hardnessMeqL: null,
            kind: 'tap',
          }) as KnownWater,
          180,
        ),
      ),
    ];
    expect(tested.highPh - tested.lowPh).toBeLessThan(guessed.highPh - guessed.lowPh);
    expect(tested.ph).toBeGreaterThan(7);
  });
  it('stands higher tomorrow in hard water', () => {
    const hard = predicted(make(water(424, 2.85), 180));
    expect(hard.lowPh).toBeLessThan(hard.ph);
    expect(hard.highPh).toBeGreaterThan(hard.ph);
    expect(Math.abs(hard.tomorrowPh - hard.ph)).toBeLessThan(1.5);
  });
  it('is put where the pH pen says it is', () => {
    fc.assert(
      fc.property(fc.double({ min: 4, max: 8.5, noNaN: true }), (ph) => {
        const answer = solve(anchoredAt(predicted(make(water(18, null), 180)).total, ph)!);
        expect(answer.ok && answer.ph).toBeCloseTo(ph, 4);
      }),
      { numRuns: 40 },
    );
  });
  it('takes an analysed water at the reading it shows today', () => {
    const answer = solve(waterAtReading(water(400, 2.5), 300).composition);
    expect(answer.ok && answer.ecUsCm).toBeGreaterThan(295);
    expect(answer.ok && answer.ecUsCm).toBeLessThan(315);
  });
  it('says so where no composition near it has the pH, or the model does not reach so far', () => {
    const soft = composition({ Ca: 0.2, Mg: 0.1, K: 1, NO3: 1.2, CO2: 0.1 });
    expect(anchoredAt(soft, 6.2)).toBeDefined();
    expect(anchoredAt(soft, 13.5)).toBeUndefined();
    expect(anchoredAt(composition({ Na: 400, Cl: 400 }), 6.5)).toBeUndefined();
  });
});
