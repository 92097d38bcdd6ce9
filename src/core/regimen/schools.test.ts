import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  atShare,
  comingVisits,
  constantDilute,
  couldBeOne,
  harmOfWaiting,
  inGap,
  inSeason,
  isFirstOfSeason,
  joinKeys,
  lastSoakOf,
  MAGNESIUM_SOAK,
  mixKey,
  openMonths,
  plusDays,
  regimenProblems,
  rotaDays,
  roundMinutes,
  SCHOOL_TEXTS,
  serves,
  SILICATE_SOAK,
  soakDueFrom,
  soakKey,
  soaksDueOn,
  soakToMake,
  staggerSoaks,
  strengthByHeight,
  wateringOf,
  whoWaits,
  type PlantNow,
  type PotHistory,
  type SeasonSite,
} from './index.ts';
import { SOAKS } from './soak-kinds.ts';

const growing: PlantNow = { stage: 'growth', sensitivity: 'usual', crop: false, heightCm: null };
const sill: SeasonSite = { southern: false, lamps: false, warm: true };
const lamps: SeasonSite = { southern: false, lamps: true, warm: true };
const since = (on: string, more: Partial<PotHistory> = {}): PotHistory => ({
  lastFilledOn: undefined,
  turn: 0,
  lastSoaks: {},
  since: on,
  ...more,
});
const school = (name: string) => SCHOOL_TEXTS.find((s) => s.school === name)!.regimen;

describe('schools', () => {
  it('every school can be followed as it comes', () => {
    for (const { title, regimen } of SCHOOL_TEXTS) expect([title, regimenProblems(regimen)]).toEqual([title, []]);
  });
  it('a regimen that cannot be followed says why, at its part', () => {
    const base = constantDilute(180, 7);
    const paths = (more: Partial<typeof base>) => regimenProblems({ ...base, ...more }).map((p) => p.path);
    expect(paths({ feeds: [] })).toEqual(['feeds']);
    expect(paths({ feeds: [{ ...base.feeds[0]!, days: 0 }] })).toEqual(['feeds.0.days']);
    expect(paths({ feeds: [{ ...base.feeds[0]!, netEcUsCm: 0 }] })).toEqual(['feeds.0.netPpm']);
    expect(paths({ latestDays: 5 })).toEqual(['latestDays']);
    expect(paths({ soaks: [{ ...MAGNESIUM_SOAK, months: [] }] })).toEqual(['soaks.0.months']);
    expect(paths({ soaks: [MAGNESIUM_SOAK, MAGNESIUM_SOAK] })).toEqual(['soaks.1.what']);
    expect(paths({ soaks: [{ ...MAGNESIUM_SOAK, pourPhLow: 7, pourPhHigh: 6 }] })).toEqual(['soaks.0.phLow']);
  });
  it('a share of a regimen is its feeds’', () => {
    expect(atShare(constantDilute(180, 7), 0.5).feeds[0]!.netEcUsCm).toBe(90);
    expect(rotaDays(school('split'))).toBe(7);
  });
});

describe('the watering of a plant', () => {
  const soaks = school('soaksInSeason');
  it('takes turns, and is weaker in rest and for the tender', () => {
    const split = school('split');
    expect([0, 1, 2].map((turn) => wateringOf(split, growing, turn).what)).toEqual(['feed', 'calmag', 'feed']);
    expect(wateringOf(soaks, { ...growing, stage: 'rest' }, 0)).toMatchObject({
      netEcUsCm: 180,
      because: ['at rest: 30 % of the strength'],
    });
    const tender = wateringOf(
      { ...constantDilute(200, 7), tenderShare: 0.5 },
      { ...growing, sensitivity: 'tender' },
      0,
    );
    expect(tender).toMatchObject({ netEcUsCm: 100, because: ['tender: half strength'] });
  });
  it('in bud some give calcium–magnesium alone', () => {
    const regimen = {
      ...constantDilute(180, 7),
      stages: { ...constantDilute(180, 7).stages, inBud: 'calmag' as const },
    };
    expect(wateringOf(regimen, { ...growing, stage: 'spike' }, 0)).toMatchObject({ what: 'calmag', netEcUsCm: 100 });
    expect(wateringOf(regimen, growing, 0).what).toBe('feed');
  });
  it('a plant that takes none of it gets plain water', () => {
    const regimen = { ...constantDilute(180, 7), stages: { ...constantDilute(180, 7).stages, restShare: 0 } };
    expect(wateringOf(regimen, { ...growing, stage: 'rest' }, 0)).toMatchObject({ what: 'plain', netEcUsCm: 0 });
  });
  it('by height only for a pot marked as a crop, and a gap is flagged, never bridged', () => {
    const regimen = { ...constantDilute(640, 7), byHeight: true };
    expect(wateringOf(regimen, { ...growing, heightCm: 12 }, 0).netEcUsCm).toBe(640);
    expect(wateringOf(regimen, { ...growing, crop: true, heightCm: 12 }, 0)).toMatchObject({
      netEcUsCm: 800,
      because: ['by its 12 cm'],
    });
    const gap = { ...growing, crop: true, heightCm: 16 };
    expect(wateringOf(regimen, gap, 0).netEcUsCm).toBe(640);
    expect(wateringOf(regimen, gap, 0).because[0]).toContain('between the bands');
    expect(inGap(regimen, gap)).toBe(true);
    expect(inGap(regimen, growing)).toBe(false);
    fc.assert(
      fc.property(fc.double({ min: 0.1, max: 200, noNaN: true }), (cm) => {
        const by = strengthByHeight(cm);
        expect(by.kind === 'gap').toBe((cm >= 5 && cm < 8) || (cm > 15 && cm < 18) || (cm > 40 && cm < 43));
        if (by.kind === 'gap') expect(by.aboveCm).toBeLessThan(by.belowCm);
      }),
    );
  });
});

describe('seasons', () => {
  it('are turned by half a year in the south, and never close under lamps in the warm', () => {
    expect(openMonths(MAGNESIUM_SOAK, sill)).toEqual([4, 5, 6, 7, 8, 9, 10]);
    expect(openMonths(MAGNESIUM_SOAK, { ...sill, southern: true })).toEqual([1, 2, 3, 4, 10, 11, 12]);
    expect(openMonths(MAGNESIUM_SOAK, lamps)).toHaveLength(12);
    expect(openMonths(MAGNESIUM_SOAK, { ...lamps, warm: false })).toHaveLength(7);
    expect(openMonths(SILICATE_SOAK, lamps)).toHaveLength(5);
    expect(inSeason(MAGNESIUM_SOAK, sill, '2026-11-25')).toBe(false);
  });
  it('a soak is due in the next open month, three weeks after the last at the soonest', () => {
    const from = '2026-01-01';
    expect(soakDueFrom(MAGNESIUM_SOAK, sill, undefined, from)).toBe('2026-04-01');
    expect(soakDueFrom(MAGNESIUM_SOAK, sill, '2026-04-20', from)).toBe('2026-05-11');
    expect(soakDueFrom(MAGNESIUM_SOAK, sill, '2026-10-05', from)).toBe('2027-04-01');
    expect(soakDueFrom(MAGNESIUM_SOAK, lamps, '2026-10-28', from)).toBe('2026-11-18');
    expect(soakDueFrom({ months: [], allYearUnderLamps: false }, sill, undefined, from)).toBeUndefined();
  });
  it('the first of a season is told from the others', () => {
    expect(isFirstOfSeason(SILICATE_SOAK, sill, '2026-09-20', '2027-05-03')).toBe(true);
    expect(isFirstOfSeason(SILICATE_SOAK, sill, '2027-05-03', '2027-06-02')).toBe(false);
    expect(isFirstOfSeason(MAGNESIUM_SOAK, lamps, '2026-10-28', '2026-11-25')).toBe(false);
    expect(isFirstOfSeason(MAGNESIUM_SOAK, lamps, undefined, '2026-11-25')).toBe(true);
  });
  it('no soak while it rests; one that holds both counts as either', () => {
    const regimen = school('soaksInSeason');
    const on = '2026-06-10';
    expect(soaksDueOn(regimen, growing, sill, since('2026-06-01'), on).map((d) => d.soak.what)).toEqual([
      'magnesium',
      'silicate',
    ]);
    expect(soaksDueOn(regimen, { ...growing, stage: 'rest' }, sill, since('2026-06-01'), on)).toEqual([]);
    expect(soaksDueOn(regimen, growing, sill, since('2026-05-01', { lastSoaks: { both: '2026-06-03' } }), on)).toEqual(
      [],
    );
    expect(lastSoakOf({ magnesium: '2026-06-01', both: '2026-05-01' }, 'magnesium')).toBe('2026-06-01');
  });
  it('whatever the interval and the day it begins, each open month has one soak and never two within three weeks', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 28 }), fc.nat({ max: 364 }), fc.boolean(), (everyDays, shift, south) => {
        const today = plusDays('2026-01-01', shift);
        const regimen = constantDilute(180, everyDays, { soaks: [MAGNESIUM_SOAK] });
        const visits = comingVisits(regimen, growing, { ...sill, southern: south }, since(today), today, 400);
        const soaked = visits.filter((v) => v.soaks.length > 0).map((v) => v.on);
        const months = soaked.map((on) => on.slice(0, 7));
        expect(new Set(months).size).toBe(months.length);
        for (const on of soaked) expect(inSeason(MAGNESIUM_SOAK, { ...sill, southern: south }, on)).toBe(true);
        for (const [i, on] of soaked.entries()) if (i > 0) expect(plusDays(soaked[i - 1]!, 21) <= on).toBe(true);
      }),
    );
  });
});

describe('the weeks ahead', () => {
  it('a late pot stands on today, then its rota goes on', () => {
    const visits = comingVisits(
      school('split'),
      growing,
      sill,
      since('2026-01-01', { lastFilledOn: '2026-11-18', turn: 1 }),
      '2026-11-25',
      14,
    );
    expect(visits.map((v) => [v.on, v.watering.what])).toEqual([
      ['2026-11-25', 'calmag'],
      ['2026-11-28', 'feed'],
      ['2026-12-02', 'calmag'],
      ['2026-12-05', 'feed'],
      ['2026-12-09', 'calmag'],
    ]);
  });
  it('"look again" moves the first visit only', () => {
    const visits = comingVisits(
      constantDilute(180, 7),
      growing,
      sill,
      since('2026-01-01', { lastFilledOn: '2026-11-18', lookAgainOn: '2026-11-28' }),
      '2026-11-25',
      12,
    );
    expect(visits.map((v) => v.on)).toEqual(['2026-11-28', '2026-12-05']);
  });
});

describe('soaks together', () => {
  const due = (soak = MAGNESIUM_SOAK, first = false) => ({ soak, first, dueFrom: '2026-06-01' });
  it('magnesium and silicate due at once are one soak; the season’s first silicate is stronger', () => {
    expect(soakToMake([])).toBeUndefined();
    expect(soakToMake([due()])).toMatchObject({ what: 'magnesium', netEcUsCm: 200, sio2MgL: null });
    expect(soakToMake([due(), due(SILICATE_SOAK, true)])).toMatchObject({
      what: 'both',
      netEcUsCm: 200,
      sio2MgL: 100,
      holdMinutes: 30,
      pourPhLow: 6.5,
      pourPhHigh: 7,
    });
    // Both asked for beside what is due brings nothing more than both.
    expect(soakToMake([due(), due({ ...SOAKS.both.usual })])).toMatchObject({
      what: 'both',
      netEcUsCm: 200,
      sio2MgL: 48,
    });
    expect(soakToMake([due(), due()])).toMatchObject({ what: 'magnesium', sio2MgL: null });
    const apart = soakToMake([due(), due({ ...SILICATE_SOAK, pourPhLow: 5.5, pourPhHigh: 6 })])!;
    expect([apart.pourPhLow, apart.pourPhHigh]).toEqual([6.5, 7]);
    expect(soakKey(soakToMake([due()])!, 'soak')).not.toBe(soakKey(soakToMake([due()])!, 'spray'));
  });
  it('one pair of hands does them: nobody is wanted twice at once, and each is held as long as it should', () => {
    const hands = { fill: 3, drain: 6 };
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 5, max: 90 }), { maxLength: 12 }), (holds) => {
        const times = staggerSoaks(holds);
        const blocks = times.flatMap((t) => [
          { from: t.startMin, to: t.startMin + hands.fill },
          { from: t.drainMin, to: t.drainMin + hands.drain },
        ]);
        const sorted = [...blocks].sort((a, b) => a.from - b.from);
        for (const [i, block] of sorted.entries())
          if (i > 0) expect(block.from).toBeGreaterThanOrEqual(sorted[i - 1]!.to);
        times.forEach((t, i) => expect(t.drainMin - t.startMin - hands.fill).toBe(holds[i]));
      }),
    );
    expect(staggerSoaks([30, 30, 30, 30]).map((t) => t.startMin)).toEqual([0, 6, 12, 18]);
    expect(staggerSoaks([30], [{ from: 0, to: 5 }])[0]!.startMin).toBe(5);
    expect(roundMinutes(4, 1, [])).toBe(35);
  });
});

describe('buckets', () => {
  const mix = (key: string, netEcUsCm: number, more = {}) => ({
    key,
    what: 'feed' as const,
    fillWith: null,
    dose: null,
    netEcUsCm,
    pourPhLow: 5.5,
    pourPhHigh: 6.5,
    ...more,
  });
  const band = { below: 0.1, above: 0.2 };
  it('two mixes are one where a strength lies inside both bands and their pH meet', () => {
    const [pair] = couldBeOne([mix('a', 180), mix('b', 150), mix('c', 640)], band);
    expect(pair).toMatchObject({ keys: ['a', 'b'], netEcUsCm: 171 });
    expect(couldBeOne([mix('a', 180), mix('b', 120)], band)).toEqual([]);
    expect(couldBeOne([mix('a', 180), mix('b', 170, { pourPhLow: 4.5, pourPhHigh: 5.5 })], band)).toEqual([]);
    expect(couldBeOne([mix('a', 180), mix('b', 170, { what: 'calmag' })], band)).toEqual([]);
    expect(couldBeOne([mix('a', 180), mix('b', 170, { fillWith: 'tap' })], band)).toEqual([]);
  });
  it('one bucket’s key serves both, and no other', () => {
    const a = mixKey(wateringOf(constantDilute(180, 7), growing, 0));
    const b = mixKey(wateringOf(constantDilute(150, 7), growing, 0));
    expect(a).toBe('constantDilute:180:5.5-6.5');
    expect(serves(joinKeys([a, b]), b)).toBe(true);
    expect(serves(a, b)).toBe(false);
    expect(serves(null, a)).toBe(false);
  });
});

describe('not enough still water', () => {
  it('those wait whom it harms least, and no more of them than need to', () => {
    const wants = [
      { potId: 'dry', stillMl: 300, harm: 10 },
      { potId: 'soak', stillMl: 900, harm: 0 },
      { potId: 'easy', stillMl: 200, harm: 1 },
    ];
    expect(whoWaits(wants, 2000)).toEqual([]);
    expect(whoWaits(wants, 1300)).toEqual(['soak']);
    expect(whoWaits(wants, 400)).toEqual(['soak', 'easy']);
    expect(whoWaits(wants, 0)).toEqual(['soak', 'easy', 'dry']);
    fc.assert(
      fc.property(
        fc.array(
          fc.record({ stillMl: fc.integer({ min: 0, max: 1000 }), harm: fc.double({ min: -2, max: 20, noNaN: true }) }),
          { maxLength: 20 },
        ),
        fc.integer({ min: 0, max: 8000 }),
        (list, have) => {
          const all = list.map((w, i) => ({ ...w, potId: String(i) }));
          const waits = new Set(whoWaits(all, have));
          const served = all.filter((w) => !waits.has(w.potId)).reduce((sum, w) => sum + w.stillMl, 0);
          expect(served).toBeLessThanOrEqual(have + 1e-6);
          // None of them could have been served as well.
          for (const w of all.filter((x) => waits.has(x.potId)))
            expect(served + w.stillMl).toBeGreaterThan(have - 1e-6);
        },
      ),
    );
  });
  it('a dry pot is harmed most, a soak least', () => {
    const pot = { daysLeft: 5, saltTimes: 1, daysLate: 0, soak: false, tender: false };
    expect(harmOfWaiting({ ...pot, daysLeft: 0 })).toBeGreaterThan(harmOfWaiting({ ...pot, saltTimes: 2.5 }));
    expect(harmOfWaiting({ ...pot, soak: true })).toBeLessThan(harmOfWaiting(pot));
    expect(harmOfWaiting({ ...pot, daysLeft: undefined })).toBeGreaterThan(harmOfWaiting(pot));
  });
});
