import { describe, expect, it } from 'vitest';
import { anchoredAt, composition } from '../solution/index.ts';
import { plusDays } from '../regimen/index.ts';
import {
  aheadOfNext,
  asMade,
  countsFrom,
  curveOf,
  knowAlone,
  natureOf,
  potPath,
  scoresOf,
  weekUeqOf,
  type FillSeen,
  type PotLog,
} from './index.ts';

const feed = curveOf(
  anchoredAt(composition({ Ca: 0.2, Mg: 0.08, K: 1.1, NO3: 1.15, NH4: 0.12, PO4: 0.25, CO2: 0.15, SO4: 0.05 }), 5.8)!,
);
const mixOf = (times: number) => ({
  curve: feed,
  standing: { ...asMade(feed), strength: times },
  phKnown: true,
});
const fill = (day: number, more: Partial<FillSeen> = {}): FillSeen => ({
  on: plusDays('2026-01-05', day),
  pouredMl: 250,
  mix: mixOf(1),
  flushed: [],
  toppedUp: false,
  leftMl: 80,
  cameOutEcUsCm: 260,
  cameOutPh: 6.6,
  phSd: 0.06,
  runOffEcUsCm: undefined,
  ppmMeterId: 'p',
  phMeterId: 'h',
  ...more,
});
const log = (fills: readonly FillSeen[], more: Partial<PotLog> = {}): PotLog => ({
  poreMl: 60,
  thirst: new Array<number>(12).fill(1),
  told: [],
  fills,
  fresh: false,
  soaks: [],
  ...more,
});
const weekly = (visits: number) => Array.from({ length: visits }, (_, i) => fill(7 * i));

describe('a pot by its log', () => {
  it('gone on from what was followed before, is what it is when it is followed from its beginning', () => {
    for (const visits of [2, 5, 38, 39, 40, 41, 53]) {
      const [before, whole] = [knowAlone(log(weekly(visits - 1)))!, knowAlone(log(weekly(visits)))!];
      const wentOn = knowAlone(log(weekly(visits)), before.followed)!;
      expect(wentOn.belief).toEqual(whole.belief);
      expect(wentOn.intervals).toEqual(whole.intervals);
      expect(wentOn.water.bodies).toEqual(whole.water.bodies);
    }
  });
  it('counts its last 26 to 39 fillings, in steps', () => {
    for (let fills = 0; fills < 200; fills++) {
      const from = countsFrom(fills);
      expect(from % 13).toBe(0);
      expect(fills - from).toBeLessThanOrEqual(39);
      if (from > 0) expect(fills - from).toBeGreaterThanOrEqual(26);
    }
  });
  it('filled anew on the same day keeps what stood in its clay; after a mix nobody knows it begins anew', () => {
    const strong = fill(14, { mix: mixOf(4), leftMl: 250, cameOutEcUsCm: undefined, cameOutPh: undefined });
    const ecOf = (fills: readonly FillSeen[]) => {
      const { water, belief } = knowAlone(log(fills))!;
      return potPath(water, natureOf(belief, water, 1), 2).at(-1)!.ecUsCm;
    };
    const [once, twice] = [ecOf([fill(0), fill(7), fill(14)]), ecOf([fill(0), fill(7), strong, fill(14)])];
    expect(twice).toBeGreaterThan(1.1 * once);
    const unknown = knowAlone(log([fill(0), fill(7, { mix: undefined }), fill(14)]))!;
    expect(unknown.intervals).toHaveLength(1);
  });
  it('says what makes a filling special: overdue, changed, topped up, read by eye, newly begun, hot', () => {
    const kinds = (fills: readonly FillSeen[], more: Partial<PotLog> = {}) =>
      knowAlone(log(fills, more))!.intervals.at(-1)!.kinds;
    const six = weekly(6);
    expect(kinds(six)).toEqual([]);
    expect(kinds(weekly(2))).toContain('new');
    expect(kinds([...six, fill(60)])).toContain('overdue');
    expect(kinds([...six, fill(42, { mix: mixOf(2) }), fill(49)])).toContain('changed');
    // The second filling of a new kind stands in pores that still hold the old one; the third does not.
    const other = [42, 49, 56].map((day) => fill(day, { mix: mixOf(2) }));
    expect(kinds([...six, ...other.slice(0, 2), fill(56)])).toContain('changed');
    expect(kinds([...six, ...other, fill(63)])).not.toContain('changed');
    const next = { mix: mixOf(1), flushed: [], pouredMl: fill(0).pouredMl };
    const ahead = (fills: readonly FillSeen[]) => aheadOfNext(knowAlone(log(fills))!, next, 7).kinds;
    expect(ahead([...six, other[0]!, fill(49)])).toContain('changed');
    expect(ahead([...six, other[0]!, fill(49), fill(56)])).not.toContain('changed');
    expect(kinds([...six, fill(42, { toppedUp: true })])).toContain('toppedUp');
    expect(kinds([...six, fill(42, { phSd: 0.3 })])).toContain('kit');
    const told = [37, 38, 39].map((day) => ({ on: plusDays('2026-01-05', day), times: 2.5 }));
    expect(kinds([...six, fill(42)], { told })).toContain('hot');
  });
  it('what nobody read, and what a top-up hides, is no score', () => {
    const unread = { leftMl: undefined, cameOutEcUsCm: undefined, cameOutPh: undefined };
    const { intervals } = knowAlone(log([fill(0), fill(7), fill(14, unread), fill(21, { toppedUp: true })]))!;
    expect(scoresOf('p', intervals).map((s) => s.on)).toEqual([plusDays('2026-01-05', 7)]);
  });
  it('the clock put back a day ends nothing: such a visit teaches nothing and the next goes on', () => {
    const known = knowAlone(log([fill(0), fill(7), fill(6), fill(14)]))!;
    expect(known.intervals).toHaveLength(2);
    expect(Number.isFinite(weekUeqOf(known).mean)).toBe(true);
  });
});
