import { describe, expect, it } from 'vitest';
import { feedAim, learnedFrom, priorBelief, replayBench, bottleStrength, USUAL_PEN, type BenchAct } from './index.ts';

const aim = feedAim(180);
const bottle = priorBelief(300);
const replay = (acts: BenchAct[], thinRatio = 1) => replayBench(bottle, 2.6, thinRatio, aim, USUAL_PEN, acts);
const base: BenchAct = { kind: 'base', readingEcUsCm: 18 };
const portion = (doseMl: number, readingEcUsCm: number | null): BenchAct => ({ kind: 'portion', doseMl, relativeSd: 0.05, readingEcUsCm, confirmedOdd: false });

describe('replaying a batch from its acts', () => {
  it('before the water is read there is nothing to coach', () => {
    expect(replay([])).toMatchObject({ batch: undefined, portionsUsed: 0, strengthReached: false });
    expect(replay([{ kind: 'base', readingEcUsCm: null }]).batch).toBeUndefined();
  });
  it('follows portions and readings, and stops at strength', () => {
    const session = replay([base, portion(1, 130), portion(0.5, 190)]);
    expect(session).toMatchObject({ portionsUsed: 2, totalMl: 1.5, lastReadingEcUsCm: 190, strengthReached: true, awaitingReading: false });
    expect(session.snapshots.at(-1)).toMatchObject({ netEcUsCm: 172, readingEcUsCm: 190 });
  });
  it('waits for the reading of a portion that went in unread', () => {
    expect(replay([base, portion(1, null)])).toMatchObject({ awaitingReading: true, strengthReached: false });
    expect(replay([base, portion(1, null), { kind: 'reading', readingEcUsCm: 190, confirmedOdd: false }])).toMatchObject({
      awaitingReading: false,
      strengthReached: true,
    });
  });
  it('taking the last act back is replaying without it', () => {
    const acts = [base, portion(1, 130), portion(0.5, 190)];
    expect(replay(acts.slice(0, -1))).toEqual(replay([base, portion(1, 130)]));
  });
  it('thinning changes the volume and keeps the product in it', () => {
    const session = replay([base, portion(2, 300), { kind: 'thin', pourOffL: 0, addL: 1, readingEcUsCm: 220 }]);
    expect(session.volumeL).toBeCloseTo(3.6, 9);
    expect(session.totalMl).toBe(2);
    const poured = replay([base, portion(2, 300), { kind: 'thin', pourOffL: 1.3, addL: 1.3, readingEcUsCm: 160 }]);
    expect(poured.volumeL).toBeCloseTo(2.6, 9);
    expect(poured.totalMl).toBeCloseTo(1, 9);
  });
  it('counts corrections and judges drops by the reading before and after', () => {
    const acts: BenchAct[] = [base, portion(1.5, 190), { kind: 'ph', ph: 6.8 }, { kind: 'correction', drops: 2, ph: 6.2 }];
    expect(replay(acts)).toMatchObject({ corrections: 1, latestPh: 6.2 });
    expect(replay(acts).phPerDrop).toBeCloseTo(-0.3, 9);
    const later = replay([...acts.slice(0, 3), { kind: 'correction', drops: 2, ph: null }]);
    expect(later).toMatchObject({ corrections: 1, latestPh: undefined, phPerDrop: undefined });
    expect(replay([...acts.slice(0, 3), { kind: 'correction', drops: 2, ph: null }, { kind: 'ph', ph: 6.4 }]).phPerDrop).toBeCloseTo(-0.2, 9);
  });
  it('teaches the undiluted product even when it was thinned first', () => {
    const session = replayBench(bottle, 2.6, 10, aim, USUAL_PEN, [base, portion(15, 18 + (27 * 15) / 2.6)]);
    const learned = bottleStrength(learnedFrom(session, 10, bottle));
    expect(learned.ecPerMlL).toBeGreaterThan(260);
    expect(learned.ecPerMlL).toBeLessThan(280);
    expect(learnedFrom(replay([base]), 1, bottle)).toBe(bottle);
  });
});
