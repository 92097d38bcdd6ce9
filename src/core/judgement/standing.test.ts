import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { standingOf, SIGNS, type VisitFact } from './index.ts';
import { dryBeforeItsDay } from './thresholds.ts';

const visit = (on: string, more: Partial<VisitFact> = {}): VisitFact => ({
  eventId: on,
  on,
  days: 7,
  pouredEcUsCm: 200,
  cameOutEcUsCm: 220,
  cameOutPh: 6.2,
  leftMl: 80,
  flushMl: 700,
  ecTainted: false,
  phTainted: false,
  ...more,
});
const pot = {
  today: '2026-11-25',
  stage: 'growth' as const,
  visits: [visit('2026-11-04'), visit('2026-11-11'), visit('2026-11-18')],
  looks: [] as { eventId: string; on: string; cues: Record<string, string> }[],
  reservoirMl: 250,
  dueOn: '2026-11-25',
  plainOnly: false,
};
const look = (on: string, cues: Record<string, string>) => ({ eventId: on, on, cues });
/** The last visits came out so many times the pour. */
const times = (...ratios: number[]) => ({
  ...pot,
  visits: ratios.map((r, i) => visit(`2026-11-0${i + 1}`, { cameOutEcUsCm: 200 * r })),
});

describe('how a pot stands', () => {
  it('is its last come-out against its pour, and its last pH; a pot that is well has no sign', () => {
    expect(standingOf(pot)).toMatchObject({
      ratio: 1.1,
      pouredEcUsCm: 200,
      cameOutEcUsCm: 220,
      ratioOn: '2026-11-18',
      signs: [],
      trouble: 0,
    });
    expect(standingOf(pot).phs.map((p) => p.ph)).toEqual([6.2, 6.2, 6.2]);
  });
  it('one high reading edges up, two running salt up', () => {
    expect(standingOf(times(1.2, 1, 1.8)).signs).toEqual(['edging']);
    expect(standingOf(times(1, 1.7, 1.8)).signs).toEqual(['salting']);
    expect(standingOf(times(1, 1.2, 1.5)).signs).toEqual(['salting']);
    expect(standingOf(times(1, 0.5, 0.5)).signs).toEqual(['takesAll']);
  });
  it('against plain water there is no ratio', () => {
    const plain = standingOf({ ...pot, plainOnly: true, visits: [visit('2026-11-18', { pouredEcUsCm: 8 })] });
    expect(plain).not.toHaveProperty('ratio');
    expect(plain.signs).toEqual([]);
  });
  it('what a look saw stands until the next look saw otherwise', () => {
    const crusted = { ...pot, looks: [look('2026-11-11', { crust: 'ring' })] };
    expect(standingOf(crusted).signs).toEqual(['crust']);
    expect(standingOf({ ...crusted, looks: [...crusted.looks, look('2026-11-18', {})] }).signs).toEqual([]);
    expect(
      standingOf({
        ...pot,
        looks: ['2026-11-04', '2026-11-11', '2026-11-18'].map((on) => look(on, { leaves: 'floppy' })),
      }).signs,
    ).toEqual(['stalled']);
  });
  it('dry before its day is said two days early, or once it is a matter of tomorrow', () => {
    expect([
      dryBeforeItsDay(6, 7),
      dryBeforeItsDay(5, 7),
      dryBeforeItsDay(1, 2),
      dryBeforeItsDay(2, 2),
      dryBeforeItsDay(0, 0),
    ]).toEqual([false, true, true, false, false]);
    expect(standingOf({ ...pot, dueOn: '2026-11-29', daysUntilDry: 1 }).signs).toEqual(['drySoon']);
  });
  it('more that is wrong is never less trouble, and nothing wrong is none', () => {
    const arbitrary = fc.record({
      ratio: fc.double({ min: 0.3, max: 4, noNaN: true }),
      ph: fc.double({ min: 4, max: 9, noNaN: true }),
      crust: fc.boolean(),
    });
    fc.assert(
      fc.property(arbitrary, ({ ratio, ph, crust }) => {
        const visits = [1, 2].map((i) => visit(`2026-11-1${i}`, { cameOutEcUsCm: 200 * ratio, cameOutPh: ph }));
        const bare = standingOf({ ...pot, visits });
        const with1 = standingOf({ ...pot, visits, looks: crust ? [look('2026-11-18', { crust: 'some' })] : [] });
        expect(with1.trouble).toBeGreaterThanOrEqual(bare.trouble);
        expect(bare.trouble > 0).toBe(bare.signs.length > 0);
        expect(bare.signs.every((sign) => SIGNS.includes(sign))).toBe(true);
      }),
    );
  });
});
