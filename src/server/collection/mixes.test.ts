import { describe, expect, it } from 'vitest';
import { UNLABELLED_EC_PER_ML_L } from '../../core/strength/index.ts';
import type { BatchEntry } from './batches.ts';
import { mixOf } from './mixes.ts';

const BASE = 12;
/** A batch measured out of a bottle nobody knows, with no pen. */
const measured = (unitsPerL: number) =>
  ({
    row: { waterId: 'w', netEcUsCm: 0, pouredEcUsCm: null, afterAcidEcUsCm: null },
    parts: [{ label: null, unitsPerL, netEcUsCm: null }],
    water: { waterId: 'w', kind: 'still', test: null, ecUsCm: BASE, ph: null },
    pouredPh: undefined,
  }) as unknown as BatchEntry;

const over = (batch: BatchEntry) => mixOf(batch)!.curve.ecUsCm - BASE;
/** A make nobody knows is no surer than that. */
const SURE = 0.25;

describe('a mix measured out that nobody read', () => {
  it('is taken as strong as such a measure of such feeds is, and not as the water alone', () => {
    for (const perL of [0.2, 0.5, 1])
      expect(Math.abs(over(measured(perL)) / (perL * UNLABELLED_EC_PER_ML_L) - 1)).toBeLessThan(SURE);
  });
});
