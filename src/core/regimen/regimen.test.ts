import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  daysBetween,
  dueState,
  dueWords,
  flushMl,
  gatherMixes,
  isDue,
  litresWithSpare,
  localDateOf,
  localTimeOf,
  mixKey,
  plusDays,
  type PotToFill,
  constantDilute,
  wateringOf,
  doseWords,
  type FeedDose,
  type PlantNow,
  type Regimen,
} from './index.ts';

const weekly = constantDilute(180, 7);
const growing: PlantNow = { stage: 'growth', sensitivity: 'usual', crop: false, heightCm: null };
const weeklyFeed = wateringOf(weekly, growing, 0);

describe('due', () => {
  it.each([
    ['2026-11-16', '2026-11-23', 2, 'late', '2 d late'],
    ['2026-11-18', '2026-11-25', 0, 'due', 'due'],
    ['2026-11-19', '2026-11-26', -1, 'soon', 'tomorrow'],
    ['2026-11-20', '2026-11-27', -2, 'soon', 'in 2 d'],
    ['2026-11-24', '2026-12-01', -6, 'later', 'in 6 d'],
  ])('last filled %s is due %s', (filled, dueOn, daysLate, status, words) => {
    const due = dueState(weekly, { lastFilledOn: filled }, '2026-11-25');
    expect(due).toEqual({ dueOn, daysLate, status, pastLimit: 0 });
    expect(dueWords(due)).toBe(words);
    expect(isDue(due)).toBe(daysLate >= 0);
  });
  it('a pot never filled is due today; "look again" moves it', () => {
    expect(dueState(weekly, {}, '2026-11-25').status).toBe('due');
    expect(dueState(weekly, { lastFilledOn: '2026-11-18', lookAgainOn: '2026-11-28' }, '2026-11-25')).toMatchObject({
      dueOn: '2026-11-28',
      daysLate: -3,
    });
  });
  it('a due day on which nobody works moves to the working day before, never back to the last filling, else to the next', () => {
    // Filled on Wednesday 18 November, every 7 days: due on Wednesday 25.
    const on = (workingDays: number[], filled = '2026-11-18', everyDays = 7) =>
      dueState(constantDilute(180, everyDays), { lastFilledOn: filled }, '2026-11-25', workingDays).dueOn;
    expect(on([1, 2, 3, 4, 5, 6, 7])).toBe('2026-11-25');
    expect(on([1, 2])).toBe('2026-11-24');
    expect(on([6])).toBe('2026-11-21');
    expect(on([7], '2026-11-24', 2)).toBe('2026-11-29');
    expect(dueState(weekly, { lastFilledOn: '2026-11-18', lookAgainOn: '2026-11-27' }, '2026-11-25', [1]).dueOn).toBe(
      '2026-11-27',
    );
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1 }),
        fc.integer({ min: 1, max: 30 }),
        fc.nat({ max: 400 }),
        (days, everyDays, shift) => {
          const filled = plusDays('2026-01-01', shift);
          const due = on(days, filled, everyDays);
          const weekday = new Date(`${due}T12:00:00Z`).getUTCDay() || 7;
          expect(days).toContain(weekday);
          expect(daysBetween(filled, due)).toBeGreaterThan(0);
          expect(Math.abs(daysBetween(plusDays(filled, everyDays), due))).toBeLessThanOrEqual(6);
        },
      ),
    );
  });
  it('days add up, across months and clock changes', () => {
    expect(plusDays('2026-03-28', 2)).toBe('2026-03-30');
    fc.assert(
      fc.property(fc.integer({ min: -2000, max: 2000 }), (n) => {
        expect(daysBetween('2026-11-25', plusDays('2026-11-25', n))).toBe(n);
      }),
    );
  });
  it('the day is the grower’s own', () => {
    expect(localDateOf(new Date('2026-11-25T23:30:00Z'), 'Asia/Tokyo')).toBe('2026-11-26');
    expect(localDateOf(new Date('2026-06-25T23:30:00Z'), 'Europe/London')).toBe('2026-06-26');
    expect(localTimeOf(new Date('2026-06-25T09:05:00Z'), 'Europe/London')).toBe('10:05');
  });
});

describe('mixes of a round', () => {
  const pot = (potId: string, fillMl: number, watering = weeklyFeed): PotToFill => ({
    potId,
    dueOn: '2026-11-25',
    fillMl,
    reservoirMl: fillMl + 10,
    watering,
  });
  it('gather pots of one strength, with spare and flush water', () => {
    const herbs = { ...weeklyFeed, netEcUsCm: 640 };
    const mixes = gatherMixes([pot('a', 250), pot('b', 230), pot('c', 320, herbs)]);
    expect(mixes.map((m) => m.potIds)).toEqual([['a', 'b'], ['c']]);
    expect(mixes[0]).toMatchObject({ key: mixKey(weeklyFeed), fillMl: 480, litresToMix: 0.6, flushMl: 3 * 500 });
    expect(gatherMixes([])).toEqual([]);
  });
  it('always make enough, never much more', () => {
    fc.assert(
      fc.property(fc.double({ min: 1, max: 50_000, noNaN: true }), (fill) => {
        const madeMl = litresWithSpare(fill) * 1000;
        expect(madeMl).toBeGreaterThanOrEqual(fill + 100 - 1e-6);
        expect(madeMl).toBeLessThanOrEqual(Math.max(fill + 100, fill * 1.1) + 100 + 1e-6);
      }),
    );
    expect(litresWithSpare(0)).toBe(0);
  });
  it('flush by rule of thumb', () => expect(flushMl(weeklyFeed, 260)).toBe(780));
});

describe('a feed given by measure', () => {
  const by = (dose: FeedDose, more: Partial<Regimen> = {}) => {
    const regimen = constantDilute(180, 7, more);
    return { ...regimen, feeds: [{ ...regimen.feeds[0]!, dose }] };
  };
  const half = { by: 'label', share: 0.5 } as const;

  it('is weaker where the plant wants less, in the measure it is given by', () => {
    const resting = { ...growing, stage: 'rest' as const };
    const stages = { restShare: 0.5, rootingShare: 0, inBud: 'calmag', soaksOnlyInGrowth: true } as const;
    expect(wateringOf(by({ by: 'perL', units: 2.5 }, { stages }), resting, 0)).toMatchObject({
      netEcUsCm: 90,
      dose: { by: 'perL', units: 1.25 },
    });
    expect(wateringOf(by(half, { stages }), { ...growing, stage: 'rooting' }, 0)).toMatchObject({
      what: 'plain',
      dose: null,
    });
    expect(wateringOf(by(half, { stages }), { ...growing, stage: 'spike' }, 0)).toMatchObject({
      what: 'calmag',
      dose: null,
    });
  });
  it('a band by height is a strength, whatever the dose', () => {
    const herb = { ...growing, crop: true, heightCm: 10 };
    expect(wateringOf(by(half, { byHeight: true }), herb, 0)).toMatchObject({ netEcUsCm: 800, dose: null });
  });
  it('another measure is another bucket; the same one, however written, the same', () => {
    const keyOf = (dose: FeedDose) => mixKey(wateringOf(by(dose), growing, 0));
    expect(
      new Set([mixKey(weeklyFeed), keyOf(half), keyOf({ by: 'label', share: 0.25 }), keyOf({ by: 'perL', units: 0.5 })])
        .size,
    ).toBe(4);
    expect(keyOf({ by: 'perL', units: 0.1 + 0.2 })).toBe(keyOf({ by: 'perL', units: 0.3 }));
  });
  it('is told in words', () => {
    expect(
      [half, { by: 'label', share: 0.1 } as const, { by: 'perL', units: 1.302084 } as const].map(doseWords),
    ).toEqual(['half the label’s dose', '10 % of the label’s dose', '1.3 mL a litre']);
  });
});
