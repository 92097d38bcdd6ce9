import { describe, expect, it } from 'vitest';
import { constantDilute, plusDays } from '../regimen/index.ts';
import { normal, seededRandom } from '../statistics/index.ts';
import {
  armGiven,
  asDone,
  outcomeOf,
  pairSpread,
  trialFound,
  usualEffect,
  withChange,
  type TrialSeries,
} from './index.ts';

const ON = '2026-03-02';
const WEEKS = 12;
const END = plusDays(ON, 7 * WEEKS);
const weekly = constantDilute(180, 7);

/** Pots read once a week; those of the first arm differ by `effect` from the start on. */
function lived(pairs: number, effect: number, random: () => number, weeks = WEEKS): TrialSeries[] {
  return Array.from({ length: 2 * pairs }, (_, i) => {
    const own = 3 * normal(random);
    const drift = 0.5 * normal(random);
    const arm = (i % 2) as 0 | 1;
    return {
      id: `p${i}`,
      arm,
      pair: i >> 1,
      fromOn: ON,
      untilOn: plusDays(ON, 7 * weeks),
      figures: Array.from({ length: WEEKS + weeks }, (_w, k) => {
        const since = plusDays(ON, 7 * (k - WEEKS));
        const on = plusDays(since, 7);
        const after = k >= WEEKS;
        return { since, on, value: own + (after ? drift + (arm === 0 ? effect : 0) : 0) + 0.3 * normal(random) };
      }),
    };
  });
}

describe('what a pot came to', () => {
  const figures = [
    { since: '2026-02-16', on: '2026-02-23', value: 10 },
    { since: '2026-02-23', on: ON, value: 12 },
    { since: ON, on: '2026-03-09', value: 20 },
  ];
  it('is what was read of its fillings since the start less its own past; the first day’s reading tells of before', () => {
    expect(outcomeOf({ figures, fromOn: ON, untilOn: END }, WEEKS)).toEqual({ before: 11, during: 20, outcome: 9 });
  });
  it('is not known of a pot with no past, or that left before it was read', () => {
    expect(outcomeOf({ figures: figures.slice(2), fromOn: ON, untilOn: END }, WEEKS)).toBeUndefined();
    expect(outcomeOf({ figures, fromOn: ON, untilOn: '2026-03-05' }, WEEKS)).toBeUndefined();
  });
  it('ends with the trial, however long it is read after', () => {
    const later = [...figures, { since: plusDays(ON, 7 * WEEKS), on: plusDays(ON, 7 * WEEKS + 7), value: 99 }];
    expect(outcomeOf({ figures: later, fromOn: ON, untilOn: END }, WEEKS)?.during).toBe(20);
  });
});

describe('trials lived through', () => {
  const TRIALS = 1000;
  const share = (of: (i: number) => boolean) =>
    Array.from({ length: TRIALS }, (_, i) => of(i)).filter(Boolean).length / TRIALS;
  it('with no difference, looked at every week and ended at the first that looks real: real at most 6 times in a hundred', () => {
    const random = seededRandom(3);
    const real = share((i) => {
      const pots = lived(6, 0, random);
      for (let weeks = 2; weeks <= WEEKS; weeks++) {
        const early = weeks < WEEKS;
        const until = plusDays(ON, 7 * weeks);
        const seen = pots.map((pot) => ({ ...pot, untilOn: until }));
        const { verdict } = trialFound(seen, WEEKS, early, 0.1, i, { draws: 100 });
        if (verdict === 'real' || verdict === 'small') return true;
      }
      return false;
    });
    expect(real).toBeLessThanOrEqual(0.06);
  });
  it('a large difference is found at its end, and says how large', () => {
    const found = trialFound(lived(8, -3, seededRandom(5)), WEEKS, false, 0.5, 1);
    expect(found.verdict).toBe('real');
    expect(found.pairs).toBe(8);
    expect(found.difference!.low).toBeLessThan(-3 + 1);
    expect(found.difference!.high).toBeGreaterThan(-3 - 1);
    expect(found.smallest).toBeLessThan(3);
  });
  it('a pair of which one left counts for nothing; a single pair says nothing', () => {
    const pots = lived(2, -3, seededRandom(5)).map((pot) => (pot.id === 'p0' ? { ...pot, untilOn: ON } : pot));
    const found = trialFound(pots, WEEKS, false, 0.5, 1);
    expect(found.pairs).toBe(1);
    expect(found).toMatchObject({ verdict: 'few', difference: undefined });
  });
  it('pots that were given what the other arm gets are counted there, by what was done', () => {
    const found = trialFound(lived(8, -3, seededRandom(5)), WEEKS, false, 0.5, 1);
    const all = new Map(found.pots.map(({ id, arm }) => [id, (1 - arm) as 0 | 1]));
    expect(asDone(found, all, 1)!.mean).toBeCloseTo(-found.difference!.mean, 6);
  });
  it('how far pairs come apart by themselves is found from the pots’ own past', () => {
    const pots = lived(20, 0, seededRandom(9));
    // Two pots, each drifting by half a unit.
    const sd = pairSpread(
      pots.map(({ figures }) => [...figures]),
      plusDays(ON, 7 * WEEKS),
      WEEKS,
    )!;
    expect(sd).toBeGreaterThan(0.5);
    expect(sd).toBeLessThan(1);
    expect(
      pairSpread(
        pots.slice(0, 3).map(({ figures }) => [...figures]),
        plusDays(ON, 7 * WEEKS),
        WEEKS,
      ),
    ).toBeUndefined();
  });
});

describe('one thing changed', () => {
  it('is the only thing that changes', () => {
    expect(withChange(weekly, { kind: 'strength', share: 0.5 })).toEqual({
      ...weekly,
      feeds: [{ ...weekly.feeds[0]!, netEcUsCm: 90 }],
    });
    expect(withChange(weekly, { kind: 'days', times: 2 }).feeds[0]!.days).toBe(14);
    expect(withChange(weekly, { kind: 'days', times: 0.05 }).feeds[0]!.days).toBe(1);
    expect(withChange(weekly, { kind: 'pourPh', by: -0.8 }).feeds[0]).toMatchObject({
      pourPhLow: 4.7,
      pourPhHigh: 5.7,
    });
    expect(withChange(weekly, { kind: 'flush', timesReservoir: 0 }).flush.at).toBe('never');
    expect(withChange(weekly, { kind: 'flushWith', with: 'still' }).flush).toEqual({ ...weekly.flush, with: 'still' });
  });
  it('the outer limit gives way to longer days', () => {
    expect(withChange({ ...weekly, latestDays: 10 }, { kind: 'days', times: 2 }).latestDays).toBe(14);
  });
});

describe('which arm a visit was by', () => {
  const arms = [withChange(weekly, { kind: 'strength', share: 0.5 }), weekly] as const;
  const given = { netEcUsCm: 180, ph: 6, flushTimes: 3, stillShare: 0 };
  const plant = { stage: 'growth', sensitivity: 'usual', crop: false, heightCm: null } as const;
  it('the one whose mix it was', () => {
    expect(armGiven(given, arms, plant)).toBe(1);
    expect(armGiven({ ...given, netEcUsCm: 90 }, arms, plant)).toBe(0);
  });
  it('neither, in between, or where nothing tells them apart', () => {
    expect(armGiven({ ...given, netEcUsCm: 127 }, arms, plant)).toBeUndefined();
    expect(armGiven({ ...given, netEcUsCm: undefined }, arms, plant)).toBeUndefined();
    expect(armGiven(given, [weekly, weekly], plant)).toBeUndefined();
  });
  it('a resting plant’s weaker feed is its own arm’s, not the other’s', () => {
    const rests = { ...weekly, stages: { ...weekly.stages, restShare: 0.5 } };
    const resting = [withChange(rests, { kind: 'strength', share: 0.5 }), rests] as const;
    expect(armGiven({ ...given, netEcUsCm: 90 }, resting, { ...plant, stage: 'rest' })).toBe(1);
    expect(armGiven({ ...given, netEcUsCm: 90 }, resting, plant)).toBe(0);
  });
  it('a pH within both is neither’s, within one of them that one’s', () => {
    const lower = [withChange(weekly, { kind: 'pourPh', by: -0.8 }), weekly] as const;
    expect(armGiven({ ...given, ph: 5.6 }, lower, plant)).toBeUndefined();
    expect(armGiven({ ...given, ph: 5 }, lower, plant)).toBe(0);
    expect(armGiven({ ...given, ph: 6.3 }, lower, plant)).toBe(1);
  });
  it('the water it was flushed with tells too', () => {
    const still = [withChange(weekly, { kind: 'flushWith', with: 'still' }), weekly] as const;
    expect(armGiven({ ...given, stillShare: 1 }, still, plant)).toBe(0);
    expect(armGiven({ ...given, stillShare: 0.3 }, still, plant)).toBe(1);
    expect(armGiven({ ...given, stillShare: undefined }, still, plant)).toBeUndefined();
  });
  it('an amount tells where it was to be given as it is, for what salts ask for is another each time', () => {
    const twice = [withChange(weekly, { kind: 'flush', timesReservoir: 6 }), weekly] as const;
    expect(armGiven({ ...given, flushTimes: 6.2 }, twice, plant)).toBe(0);
    expect(armGiven({ ...given, flushTimes: 1.4 }, twice, plant)).toBe(1);
    const never = [withChange(weekly, { kind: 'flush', timesReservoir: 0 }), weekly] as const;
    expect(armGiven({ ...given, flushTimes: 0 }, never, plant)).toBe(0);
    expect(armGiven({ ...given, flushTimes: 0 }, [weekly, never[0]], plant)).toBeUndefined();
  });
});

describe('what is usual', () => {
  it('is said of what it is known of only', () => {
    expect(usualEffect('strength', 0.5, 'strength')).toBe(0.25);
    expect(usualEffect('strength', 0.5, 'ph')).toBeUndefined();
    expect(usualEffect('pourPh', -0.8, 'ph')).toBeCloseTo(0.12);
  });
});
