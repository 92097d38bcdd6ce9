import { describe, expect, it } from 'vitest';
import { feedAim } from './aim.ts';
import { startBatch, USUAL_PEN } from './batch-belief.ts';
import { priorBelief } from './belief.ts';
import { wholeDrops } from './whole-drops.ts';

/** 4 L over 9 ppm water, a bottle of 900 µS/cm for a mL in a litre, 18 drops to the mL: 12.5 µS/cm a drop. */
const batch = startBatch(priorBelief(900), 4, 18, USUAL_PEN);
const dropper = { kind: 'dropper', id: 'd', name: 'Glass', dropsPerMl: 18 } as const;

describe('whole drops', () => {
  it('says which counts land in the band, and none beside them', () => {
    // 162 to 216 net: 13 drops bring 162.5, 17 bring 212.5.
    expect(wholeDrops(batch, 0, feedAim(180), 18, dropper)).toEqual({ from: 13, to: 17 });
  });
  it('says nothing of a syringe, of more drops than one counts, or where a single drop jumps over the band', () => {
    const syringe = { kind: 'syringe', id: 's', name: '1 mL', capacityMl: 1, stepMl: 0.1 } as const;
    expect(wholeDrops(batch, 0, feedAim(180), 18, syringe)).toBeUndefined();
    expect(wholeDrops(batch, 0, feedAim(600), 18, dropper)).toBeUndefined();
    expect(wholeDrops(batch, 0, feedAim(7), 18, dropper)).toBeUndefined();
  });
});
