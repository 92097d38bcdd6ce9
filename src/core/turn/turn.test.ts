import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { constantDilute, plusDays } from '../regimen/index.ts';
import { normal, seededRandom, type Random } from '../statistics/index.ts';
import { compareAt, lastingChanges, regimenDifferences, weekOf, type PotSeries } from './index.ts';

const ON = '2026-08-03';
/** Weeks before the turn, back to a year before it and as many weeks; and after it. */
const FROM = -62;
const TO = 10;

const MONDAYS = Array.from({ length: TO - FROM + 1 }, (_, i) => plusDays(ON, 7 * (FROM + i)));

type World = {
  /** Of the season, over the year; shared by all pots of a place. */
  readonly season: number;
  /** What moves all pots of a week together, and how much of it stays a week later. */
  readonly shock: number;
  readonly stays: number;
  readonly pot: number;
  readonly reading: number;
  readonly effect?: number;
};

/** A place of pots read once a week; what is `changed` carries the effect from the turn on. */
function collection(world: World, random: Random, changed: number, unchanged: number) {
  const shared = new Map<number, number>();
  let shock = world.shock * normal(random);
  for (let week = FROM; week < TO; week++) {
    shock = world.stays * shock + Math.sqrt(1 - world.stays ** 2) * world.shock * normal(random);
    shared.set(week, world.season * Math.sin((2 * Math.PI * (week + 5)) / 52) + shock);
  }
  const pot = (id: string, effect: number): PotSeries => {
    const own = world.pot * normal(random);
    return {
      id,
      place: 'sill',
      figures: Array.from({ length: TO - FROM }, (_, i) => i).flatMap((i) => {
        const week = FROM + i;
        // Between the two autumns nothing is asked.
        if (week > -42 && week < -10) return [];
        return {
          on: MONDAYS[i + 1]!,
          since: MONDAYS[i]!,
          value: own + shared.get(week)! + (week >= 0 ? effect : 0) + world.reading * normal(random),
        };
      }),
    };
  };
  const some = (n: number, mark: string, effect = 0) => Array.from({ length: n }, (_, i) => pot(`${mark}${i}`, effect));
  return { changed: some(changed, 'c', world.effect), unchanged: some(unchanged, 'u') };
}

const TRIES = 1000;
function calledReal(world: World, pots: readonly [number, number], weeks = 8): number {
  const random = seededRandom(61);
  let real = 0;
  for (let i = 0; i < TRIES; i++) {
    const { changed, unchanged } = collection(world, random, ...pots);
    const difference = compareAt(changed, unchanged, ON, weeks, i, { draws: 200 })?.difference;
    if (difference && (difference.low > 0 || difference.high < 0)) real++;
  }
  return real / TRIES;
}

/** Seasons, weeks that hang together a little and much, pots much alike and little: none that the comparison was made for. */
const NO_EFFECT: readonly World[] = [
  { season: 30, shock: 5, stays: 0, pot: 20, reading: 10 },
  { season: 30, shock: 10, stays: 0.5, pot: 5, reading: 5 },
  { season: 60, shock: 10, stays: 0.8, pot: 20, reading: 3 },
  { season: 0, shock: 0, stays: 0, pot: 10, reading: 10 },
  { season: 100, shock: 20, stays: 0.6, pot: 1, reading: 1 },
];

describe('a turn that did nothing, in a season', () => {
  it.each(NO_EFFECT)('against pots that did not turn is called real at most 8 times in a hundred: %o', (world) => {
    expect(calledReal(world, [6, 6])).toBeLessThanOrEqual(0.08);
  });
  it.each(NO_EFFECT)('against the year before likewise: %o', (world) => {
    expect(calledReal(world, [8, 0])).toBeLessThanOrEqual(0.08);
  });
});

describe('a turn that did something', () => {
  const world = { season: 30, shock: 5, stays: 0.3, pot: 20, reading: 10, effect: -20 };
  it('is found, against pots beside it', () => {
    expect(calledReal(world, [8, 8])).toBeGreaterThan(0.9);
  });
  it('and against the year before where it did twice as much: two years differ by more than two pots', () => {
    expect(calledReal({ ...world, effect: -40 }, [8, 0])).toBeGreaterThan(0.75);
  });
});

describe('what nothing is said of', () => {
  const { changed } = collection(NO_EFFECT[0]!, seededRandom(1), 6, 0);
  it('a turn with no pots beside it and no year before it', () => {
    const young = changed.map((s) => ({ ...s, figures: s.figures.filter((f) => f.on > plusDays(ON, -100)) }));
    expect(compareAt(young, [], ON, 8, 1)).toMatchObject({ against: 'nothing', difference: null, pots: 6 });
  });
  it('a turn whose pots were read on one side only', () => {
    const never = changed.map((s) => ({ ...s, figures: s.figures.filter((f) => f.on < ON) }));
    expect(compareAt(never, [], ON, 8, 1)).toBeUndefined();
  });
  it('pots that stand elsewhere are no comparison', () => {
    const elsewhere = changed.map((s) => ({ ...s, id: `x${s.id}`, place: 'porch' }));
    expect(compareAt(changed, elsewhere, ON, 8, 1)?.against).toBe('yearBefore');
  });
});

describe('the weeks of a turn', () => {
  it('a reading of what was poured before the turn tells of before, though it was read on its day', () => {
    expect(weekOf({ on: ON, since: plusDays(ON, -7), value: 1 }, ON)).toBe(-1);
    expect(weekOf({ on: plusDays(ON, 7), since: ON, value: 1 }, ON)).toBe(0);
    expect(weekOf({ on: plusDays(ON, 2), since: plusDays(ON, -5), value: 1 }, ON)).toBeUndefined();
  });
  it('any figure is before, after, or tells of both', () => {
    fc.assert(
      fc.property(fc.integer({ min: -300, max: 300 }), fc.integer({ min: 0, max: 30 }), (from, days) => {
        const week = weekOf({ since: plusDays(ON, from), on: plusDays(ON, from + days), value: 1 }, ON);
        expect(week === undefined).toBe(from < 0 && from + days > 0);
        if (week !== undefined) expect(week >= 0).toBe(from >= 0);
      }),
    );
  });
});

describe('what changed for good', () => {
  const uses = (...runs: readonly (readonly [string, number])[]) =>
    runs
      .flatMap(([what, n]) => Array.from({ length: n }, () => what))
      .map((what, i) => ({ on: plusDays('2026-01-05', 7 * i), what }));
  it('a feed that stayed', () => {
    expect(lastingChanges(uses(['a', 6], ['b', 6]))).toEqual([{ on: '2026-02-16', from: 'a', to: 'b' }]);
  });
  it('not a bucket made otherwise, nor a change of last week', () => {
    expect(lastingChanges(uses(['a', 6], ['b', 1], ['a', 6]))).toEqual([]);
    expect(lastingChanges(uses(['a', 6], ['b', 2]))).toEqual([]);
    expect(lastingChanges([])).toEqual([]);
  });
  it('there and back again is two', () => {
    expect(lastingChanges(uses(['a', 6], ['b', 6], ['a', 6])).map(({ to }) => to)).toEqual(['b', 'a']);
  });
});

describe('what differs between two regimens', () => {
  const weekly = constantDilute(180, 7);
  it('the days, the strength, the flush, the pour, each in words', () => {
    expect(regimenDifferences(constantDilute(180, 14), weekly, 0.5)).toEqual([
      { part: 'days', words: 'weekly, not fortnightly' },
    ]);
    expect(regimenDifferences(weekly, constantDilute(150, 7), 0.5)[0]).toEqual({
      part: 'strength',
      words: '75 ppm, not 90 ppm',
    });
    const still = { ...weekly, flush: { ...weekly.flush, with: 'still' as const } };
    expect(regimenDifferences(weekly, still, 0.5)[0]!.words).toBe(
      'flushed 3 × the reservoir each time with still water, not flushed 3 × the reservoir each time',
    );
  });
  it('nothing where they are the same', () => {
    expect(regimenDifferences(weekly, { ...weekly }, 0.5)).toEqual([]);
  });
});
