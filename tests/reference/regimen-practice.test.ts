import { describe, expect, it } from 'vitest';
import {
  comingVisits,
  constantDilute,
  dueState,
  HEIGHT_BANDS,
  MAGNESIUM_SOAK,
  plusDays,
  SCHOOL_TEXTS,
  SILICATE_SOAK,
  strengthByHeight,
  type PlantNow,
  type SeasonSite,
} from '../../src/core/regimen/index.ts';

/* Common practice of the trade (no published source): when soaks and waterings come, and how strong they are. ppm on a half-scale pen. */

const growing: PlantNow = { stage: 'growth', sensitivity: 'usual', crop: false, heightCm: null };
const daylight: SeasonSite = { southern: false, lamps: false, warm: true };
const underLamps: SeasonSite = { southern: false, lamps: true, warm: true };

/** Days of a year's magnesium soaks on a weekly watering, the year begun on New Year's Day. */
function soakDays(site: SeasonSite): string[] {
  const regimen = constantDilute(180, 7, { soaks: [MAGNESIUM_SOAK] });
  const history = { lastFilledOn: undefined, turn: 0, lastSoaks: {}, since: '2026-01-01' };
  return comingVisits(regimen, growing, site, history, '2026-01-01', 364)
    .filter((v) => v.soaks.length > 0)
    .map((v) => v.on);
}

describe('seasons (common practice)', () => {
  it('monthly April to October is seven soaks, one in each month', () => {
    const days = soakDays(daylight);
    expect(days).toHaveLength(7);
    expect(days.map((day) => day.slice(5, 7))).toEqual(['04', '05', '06', '07', '08', '09', '10']);
  });
  it('none is due in mid-November by daylight, twelve in a year under lamps', () => {
    expect(soakDays(daylight).filter((day) => day > '2026-11-01')).toEqual([]);
    expect(soakDays(underLamps)).toHaveLength(12);
  });
  it('silicate belongs to May to September, also under lamps', () => {
    expect(SILICATE_SOAK.months).toEqual([5, 6, 7, 8, 9]);
    expect(SILICATE_SOAK.allYearUnderLamps).toBe(false);
  });
});

describe('due dates (common practice)', () => {
  it.each([
    ['weekly', 7, '2026-11-08'],
    ['fortnightly', 14, '2026-11-15'],
    ['every three weeks, the outer limit of strong feeds', 21, '2026-11-22'],
    ['monthly, water-only culture', 30, '2026-12-01'],
  ])('%s: %i days after the last filling', (_name, days, due) => {
    expect(dueState(constantDilute(180, days), { lastFilledOn: '2026-11-01' }, '2026-11-25').dueOn).toBe(due);
    expect(plusDays('2026-11-01', days)).toBe(due);
  });
  it('the fortnight school changes at two weeks, and is past its limit after a month', () => {
    const { regimen } = SCHOOL_TEXTS.find((s) => s.school === 'fortnight')!;
    const on = (today: string) => dueState(regimen, { lastFilledOn: '2026-11-01' }, today);
    expect(on('2026-11-15')).toMatchObject({ status: 'due', pastLimit: 0 });
    expect(on('2026-11-29')).toMatchObject({ status: 'late', pastLimit: 0 });
    expect(on('2026-12-02').pastLimit).toBe(3);
  });
});

describe('strengths (common practice)', () => {
  const ppm = (school: string, i = 0) => SCHOOL_TEXTS.find((s) => s.school === school)!.regimen.feeds[i]!.netEcUsCm / 2;
  it('of the schools', () => {
    expect(ppm('constantDilute')).toBe(90);
    expect(ppm('fortnight')).toBe(180);
    expect(ppm('soaksInSeason')).toBe(300);
    expect(ppm('split', 1)).toBe(50);
  });
  it('of soaks: +100 by the pen, 32 to 64 mg/L as SiO2 with 100 first, half an hour at pH 6.5 to 7', () => {
    expect(MAGNESIUM_SOAK).toMatchObject({ netEcUsCm: 200, holdMinutes: 30, pourPhLow: 6.5, pourPhHigh: 7 });
    expect(SILICATE_SOAK.sio2MgL).toBeGreaterThanOrEqual(32);
    expect(SILICATE_SOAK.sio2MgL).toBeLessThanOrEqual(64);
    expect(SILICATE_SOAK.firstSio2MgL).toBe(100);
  });
  it('by height of vegetables: the four bands, and nothing between them', () => {
    expect(HEIGHT_BANDS.map((b) => [b.lowEcUsCm / 2, b.highEcUsCm / 2])).toEqual([
      [0, 0],
      [300, 500],
      [600, 1000],
      [1200, 1600],
    ]);
    expect([6, 16, 41].map((cm) => strengthByHeight(cm).kind)).toEqual(['gap', 'gap', 'gap']);
    expect([3, 12, 30, 60].map((cm) => strengthByHeight(cm).kind)).toEqual(['band', 'band', 'band', 'band']);
  });
});
