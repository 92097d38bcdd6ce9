import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normal, seededRandom } from '../simulation/index.ts';
import {
  addPortion,
  expectReading,
  learnedBelief,
  priorBelief,
  readingVariance,
  scaleBelief,
  startBatch,
  takeReading,
  USUAL_PEN,
  type StrengthBelief,
} from './index.ts';

/*
 * Honesty of what the coach says of itself, counted over independent cases drawn from the very model it assumes.
 */
const CASES = 1000;
const PRIOR = priorBelief(300);
const DOSE_SD = 0.05;

/** One world in which the model holds: bottle and batch drawn from the belief, a pen and a hand with its noise. */
function world(seed: number, belief: StrengthBelief) {
  const random = seededRandom(seed);
  const mean = belief.mean[0]! + Math.sqrt(belief.covariance[0]![0]!) * normal(random);
  const between = Math.sqrt(belief.covariance[1]![1]! - belief.covariance[0]![0]!);
  const bottle = mean + between * normal(random);
  const strength = bottle + 0.03 * belief.mean[1]! * normal(random);
  const read = (ec: number) => ec + Math.sqrt(readingVariance(ec, USUAL_PEN)) * normal(random);
  return { bottle, strength, read, hand: (doseMl: number) => doseMl * (1 + DOSE_SD * normal(random)) };
}

describe('the 90 % range of what the pen will say', () => {
  it.each([
    ['the first portion of a bottle hardly known', 0],
    ['the portion after a reading', 1],
  ])('%s holds nine times in ten', (_what, readingsBefore) => {
    let held = 0;
    for (let i = 0; i < CASES; i++) {
      const w = world(50_000 + i, PRIOR);
      let net = 0;
      let batch = startBatch(PRIOR, 2.6, w.read(40), USUAL_PEN);
      for (let r = 0; r < readingsBefore; r++) {
        net += (w.hand(0.8) * w.strength) / 2.6;
        batch = takeReading(addPortion(batch, 0.8, DOSE_SD), w.read(40 + net), USUAL_PEN, true).batch;
      }
      const said = expectReading(batch, 0.6, DOSE_SD, USUAL_PEN);
      const got = w.read(40 + net + (w.hand(0.6) * w.strength) / 2.6);
      if (got >= said.lowEcUsCm && got <= said.highEcUsCm) held++;
    }
    // 900 of 1,000 with a standard deviation of 9.5: four of them either way.
    expect(held).toBeGreaterThan(862);
    expect(held).toBeLessThan(938);
  });
  it('and the bottle’s own strength lies within its stated spread as often as it should', () => {
    let held = 0;
    for (let i = 0; i < CASES; i++) {
      const w = world(90_000 + i, PRIOR);
      const batch = takeReading(
        addPortion(startBatch(PRIOR, 2.6, w.read(40), USUAL_PEN), 1.2, DOSE_SD),
        w.read(40 + (w.hand(1.2) * w.strength) / 2.6),
        USUAL_PEN,
        true,
      ).batch;
      const known = learnedBelief(batch);
      if (Math.abs(w.bottle - known.mean[1]!) <= 1.645 * Math.sqrt(known.covariance[1]![1]!)) held++;
    }
    expect(held).toBeGreaterThan(862);
    expect(held).toBeLessThan(938);
  });
});

describe('learning', () => {
  it('from one exact reading is the ratio of net to dose (closed form of the limit)', () => {
    const exact = { resolutionEcUsCm: 1e-6, relativeSd: 0 };
    fc.assert(
      fc.property(
        fc.double({ min: 120, max: 600, noNaN: true }),
        fc.double({ min: 0.3, max: 3, noNaN: true }),
        (strength, doseMl) => {
          const batch = takeReading(
            addPortion(startBatch(PRIOR, 2, 20, exact), doseMl, 0),
            20 + (strength * doseMl) / 2,
            exact,
            false,
          ).batch;
          expect(batch.state.mean[2]).toBeCloseTo(strength, 3);
        },
      ),
    );
  });
  it('does not depend on the unit of the dose: a product thinned 1 in 10 teaches the same', () => {
    const plain = takeReading(addPortion(startBatch(PRIOR, 2, 20, USUAL_PEN), 1, DOSE_SD), 150, USUAL_PEN).batch;
    const thinned = takeReading(
      addPortion(startBatch(scaleBelief(PRIOR, 0.1), 2, 20, USUAL_PEN), 10, DOSE_SD),
      150,
      USUAL_PEN,
    ).batch;
    const back = scaleBelief(learnedBelief(thinned), 10);
    learnedBelief(plain).mean.forEach((m, i) => expect(back.mean[i]).toBeCloseTo(m, 6));
    learnedBelief(plain).covariance.forEach((row, i) =>
      row.forEach((v, j) => expect(back.covariance[i]![j]).toBeCloseTo(v, 4)),
    );
  });
  it('never makes the strength less certain, and order of equal readings does not matter', () => {
    const read = (first: number, second: number) => {
      let batch = startBatch(PRIOR, 2, 20, { resolutionEcUsCm: 4, relativeSd: 0 });
      batch = addPortion(batch, 1, 0);
      for (const ec of [first, second])
        batch = takeReading(batch, ec, { resolutionEcUsCm: 4, relativeSd: 0 }, true).batch;
      return learnedBelief(batch);
    };
    const [a, b] = [read(150, 152), read(152, 150)];
    expect(a.mean[1]).toBeCloseTo(b.mean[1]!, 9);
    expect(a.covariance[1]![1]!).toBeLessThan(PRIOR.covariance[1]![1]!);
  });
});
