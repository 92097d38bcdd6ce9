import { describe, expect, it } from 'vitest';
import { drawPractice, EXERCISES, PRACTICE_NET_EC, practiceReading, practiceTruth, simEc, simPh } from './index.ts';

describe('the practice bucket', () => {
  it('is the same for the same seed, and another for another', () => {
    for (const exercise of EXERCISES) {
      expect(drawPractice(exercise, 7)).toEqual(drawPractice(exercise, 7));
      expect(drawPractice(exercise, 7).product).not.toEqual(drawPractice(exercise, 8).product);
    }
  });
  it('begins where each exercise says: at nothing, far over, about right with the pH too high', () => {
    for (let seed = 0; seed < 50; seed++) {
      const net = (exercise: (typeof EXERCISES)[number]) => {
        const bucket = drawPractice(exercise, seed);
        return simEc(practiceTruth(bucket, []).solution) - simEc(bucket.water);
      };
      expect(net('reach')).toBeCloseTo(0, 6);
      expect(net('rescue')).toBeGreaterThan(1.8 * PRACTICE_NET_EC);
      expect(net('ph') / PRACTICE_NET_EC).toBeGreaterThan(0.85);
      expect(net('ph') / PRACTICE_NET_EC).toBeLessThan(1.2);
      expect(simPh(practiceTruth(drawPractice('ph', seed), []).solution)).toBeGreaterThan(6.5);
    }
  });
  it('cannot be rescued by water alone in its jug', () => {
    const bucket = drawPractice('rescue', 1);
    const net = simEc(practiceTruth(bucket, []).solution) - simEc(bucket.water);
    expect(bucket.volumeL * (net / PRACTICE_NET_EC)).toBeGreaterThan(bucket.capacityL);
  });
  it('is read with a pen’s own noise: two dips need not agree, each dip agrees with itself', () => {
    const bucket = drawPractice('ph', 3);
    expect(practiceReading(bucket, [], 'pH', 1)).toBe(practiceReading(bucket, [], 'pH', 1));
    const shown = new Set(Array.from({ length: 30 }, (_, dip) => practiceReading(bucket, [], 'pH', dip)));
    expect(shown.size).toBeGreaterThan(1);
  });
  it('acid lowers it, water thins it', () => {
    const bucket = drawPractice('ph', 3);
    const ph = (deeds: Parameters<typeof practiceTruth>[1]) => simPh(practiceTruth(bucket, deeds).solution);
    expect(ph([{ id: 'a', kind: 'acid', ml: 0.4 }])).toBeLessThan(ph([]));
    const over = drawPractice('rescue', 3);
    const ec = (deeds: Parameters<typeof practiceTruth>[1]) => simEc(practiceTruth(over, deeds).solution);
    expect(ec([{ id: 't', kind: 'thin', pourOffL: 1.5, addL: 2.5 }])).toBeLessThan(ec([]) / 2);
  });
});
