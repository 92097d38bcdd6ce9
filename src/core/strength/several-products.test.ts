import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normal, seededRandom } from '../simulation/index.ts';
import {
  addPortion,
  batchStrength,
  bottleStrength,
  learnedBelief,
  openBottle,
  priorBelief,
  startBatch,
  taintedPen,
  takeReading,
  USUAL_PEN,
  type StrengthBelief,
} from './index.ts';

describe('several products in one batch', () => {
  const beliefs = [priorBelief(300), priorBelief(400)];

  it('one product is the same as it was alone', () => {
    const alone = takeReading(addPortion(startBatch(beliefs[0]!, 4, 20, USUAL_PEN), 2, 0.05), 160, USUAL_PEN).batch;
    const both = takeReading(addPortion(startBatch(beliefs, 4, 20, USUAL_PEN), 2, 0.05), 160, USUAL_PEN).batch;
    expect(learnedBelief(both).mean[1]).toBeCloseTo(learnedBelief(alone).mean[1]!, 9);
    expect(learnedBelief(both).covariance[1]?.[1]).toBeCloseTo(learnedBelief(alone).covariance[1]![1]!, 9);
    // Nothing of the other went in: it is where it was, and a batch older.
    expect(learnedBelief(both, 1).mean).toEqual(beliefs[1]!.mean);
    expect(learnedBelief(both, 1).covariance[1]![1]! / beliefs[1]!.covariance[1]![1]!).toBeCloseTo(1, 2);
  });

  it('read only at the end, the surprise is shared by what each could have caused', () => {
    const mixed = addPortion(addPortion(startBatch(beliefs, 4, 20, USUAL_PEN), 2, 0.05, 0), 2, 0.05, 1);
    const after = takeReading(mixed, 20 + 1.3 * 350, USUAL_PEN).batch;
    expect(batchStrength(after, 0).ecPerMlL).toBeGreaterThan(310);
    expect(batchStrength(after, 1).ecPerMlL).toBeGreaterThan(batchStrength(after, 0).ecPerMlL);
  });

  it('recovers both strengths of a simulated shelf over 20 batches, with ranges that hold them', () => {
    let covered = 0;
    const cases = 60;
    for (let seed = 0; seed < cases; seed++) {
      const random = seededRandom(seed);
      const truth = [300 * (1 + 0.2 * normal(random)), 400 * (1 + 0.2 * normal(random))];
      let known: StrengthBelief[] = beliefs.map((b) => openBottle(b));
      for (let n = 0; n < 20; n++) {
        let batch = startBatch(known, 4, 20, USUAL_PEN);
        let ec = 20;
        for (const product of [0, 1]) {
          const dose = 0.5 + random();
          const inBatch = truth[product]! * (1 + 0.03 * normal(random));
          ec += (dose * (1 + 0.05 * normal(random)) * inBatch) / 4;
          batch = addPortion(batch, dose, 0.05, product);
          // Half the time only the whole is read.
          if (product === 1 || n % 2)
            batch = takeReading(batch, Math.max(0, ec * (1 + 0.02 * normal(random))), USUAL_PEN, true).batch;
        }
        known = [learnedBelief(batch, 0), learnedBelief(batch, 1)];
      }
      for (const product of [0, 1]) {
        const { ecPerMlL, sd } = bottleStrength(known[product]!);
        expect(Math.abs(ecPerMlL / truth[product]! - 1)).toBeLessThan(0.12);
        if (Math.abs(ecPerMlL - truth[product]!) < 1.645 * sd) covered++;
      }
    }
    // 90 % ranges, 120 of them: 80 % or more held means no gross overconfidence.
    expect(covered / (2 * cases)).toBeGreaterThan(0.8);
  });

  it('a reading of a pen later found off teaches less', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.02, max: 0.5, noNaN: true }), (taintSd) => {
        const mixed = addPortion(startBatch(beliefs[0]!, 4, 20, USUAL_PEN), 2, 0.05);
        const [clean, tainted] = [
          takeReading(mixed, 150, USUAL_PEN).batch,
          takeReading(mixed, 150, taintedPen(USUAL_PEN, taintSd)).batch,
        ];
        expect(batchStrength(tainted).sd).toBeGreaterThan(batchStrength(clean).sd);
      }),
    );
  });
});
