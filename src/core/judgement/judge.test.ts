import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  judge,
  MATTERS,
  PRIORITIES,
  RULES,
  withStrengths,
  type LookFact,
  type PotFacts,
  type VisitFact,
} from './index.ts';

const TODAY = '2026-11-25';
const onDay = (daysAgo: number) =>
  new Date(Date.parse(`${TODAY}T00:00:00Z`) - daysAgo * 86_400_000).toISOString().slice(0, 10);
const visit = (daysAgo: number, more: Partial<VisitFact> = {}): VisitFact => ({
  eventId: `v${daysAgo}`,
  on: onDay(daysAgo),
  days: 7,
  pouredEcUsCm: 200,
  pouredPh: 5.8,
  cameOutEcUsCm: 210,
  cameOutPh: 6.3,
  leftMl: 80,
  flushMl: 750,
  ecTainted: false,
  phTainted: false,
  ...more,
});
const look = (daysAgo: number, cues: Record<string, string> = {}): LookFact => ({
  eventId: `l${daysAgo}`,
  on: onDay(daysAgo),
  cues,
});
const calm: PotFacts = {
  today: TODAY,
  stage: 'growth',
  medium: 'clay',
  tender: false,
  orchid: true,
  site: { southern: false, lamps: false, warm: true },
  reservoirMl: 250,
  fillMl: 240,
  aimEcUsCm: 200,
  plainOnly: false,
  pourPh: { low: 5.5, high: 6.5 },
  everyDays: 7,
  dueOn: '2026-12-02',
  visits: [28, 21, 14, 7, 0].map((d) => visit(d)),
  looks: [28, 21, 14, 7, 0].map((d) => look(d)),
  soaks: [],
  given: [],
};
/** The last visits, newest last, in what differs. */
const lastVisits = (...more: Partial<VisitFact>[]): PotFacts => ({
  ...calm,
  visits: [
    ...calm.visits.slice(0, calm.visits.length - more.length),
    ...more.map((m, i) => visit(7 * (more.length - 1 - i), m)),
  ],
});
const lastLooks = (...cues: Record<string, string>[]): PotFacts => ({
  ...calm,
  looks: [
    ...calm.looks.slice(0, calm.looks.length - cues.length),
    ...cues.map((c, i) => look(7 * (cues.length - 1 - i), c)),
  ],
});
const rulesOf = (facts: PotFacts) => judge(facts).map((a) => a.rule);
const out = (ecUsCm: number, more: Partial<VisitFact> = {}) => ({ cameOutEcUsCm: ecUsCm, ...more });

describe('judgement', () => {
  it('says nothing of a pot that is well', () => expect(judge(calm)).toEqual([]));
  it('every rule says what is seen, what to think, what to do, and where that comes from; ids are their own', () => {
    expect(new Set(RULES.map((r) => r.id)).size).toBe(RULES.length);
    const ids = new Set(RULES.map((r) => r.id));
    for (const rule of RULES) {
      expect([
        rule.id,
        rule.seen.length > 5,
        rule.think.length > 2,
        rule.act.length > 5,
        MATTERS.includes(rule.matter),
      ]).toEqual([rule.id, true, true, true, true]);
      for (const silenced of rule.silences ?? [])
        expect([rule.id, silenced, ids.has(silenced)]).toEqual([rule.id, silenced, true]);
    }
    expect(PRIORITIES[0]).toMatch(/^Danger first/);
  });
  it('danger comes first, then salt, then more feed never while salts gather', () => {
    const facts: PotFacts = {
      ...lastVisits(out(340), out(350)),
      looks: lastLooks({ rot: 'soft', leaves: 'marks' }, { rot: 'soft', leaves: 'marks' }).looks,
    };
    expect(rulesOf(facts)).toEqual(['rot', 'salts']);
  });
  it('each advice names the very readings it stands on; with another reading it is another advice', () => {
    const [before] = judge(lastVisits(out(340), out(350)));
    expect(before!.evidence.map((e) => e.eventId)).toEqual(['v14', 'v7', 'v0']);
    const [after] = judge({ ...lastVisits(out(340), out(350), out(360)) });
    expect(after!.evidenceKey).toBe(before!.evidenceKey);
    const later = judge({
      ...lastVisits(out(340), out(350)),
      visits: [...lastVisits(out(340), out(350)).visits, { ...visit(0, out(360)), eventId: 'new', on: '2026-12-02' }],
    });
    expect(later[0]!.evidenceKey).not.toBe(before!.evidenceKey);
  });
  it('no single noisy reading or look is enough, but for what is dangerous', () => {
    const odd = fc.record({
      cameOutEcUsCm: fc.integer({ min: 20, max: 900 }),
      cameOutPh: fc.double({ min: 3.5, max: 9, noNaN: true }),
    });
    const dangerous = new Set(RULES.filter((r) => r.danger).map((r) => r.id));
    fc.assert(
      fc.property(odd, fc.integer({ min: 0, max: 4 }), (reading, at) => {
        const facts = { ...calm, visits: calm.visits.map((v, i) => (i === at ? { ...v, ...reading } : v)) };
        expect(rulesOf(facts).filter((id) => !dangerous.has(id))).toEqual([]);
      }),
    );
    const cues: [string, string][] = [
      ['tips', 'worse'],
      ['crust', 'ring'],
      ['leaves', 'floppy'],
      ['pests', 'some'],
      ['loose', 'loose'],
      ['sun', 'scar'],
      ['mould', 'fuzzy'],
      ['air', 'burnt tips'],
      ['roots', 'many'],
    ];
    for (const [cue, grade] of cues) expect([cue, rulesOf(lastLooks({ [cue]: grade }))]).toEqual([cue, []]);
  });
  it('a reading of a pen that was later found off counts half', () => {
    expect(rulesOf(lastVisits(out(340), out(350)))).toEqual(['salts']);
    expect(rulesOf(lastVisits(out(340, { ecTainted: true }), out(350, { ecTainted: true })))).toEqual([]);
    expect(rulesOf(lastVisits({ cameOutPh: 7.3 }, { cameOutPh: 7.4 }))).toEqual(['drift']);
    expect(rulesOf(lastVisits({ cameOutPh: 7.3, phTainted: true }, { cameOutPh: 7.4, phTainted: true }))).toEqual([]);
  });
});

describe('salts', () => {
  it('a gap that rises by a fifth of the aim a round is raised as soon as three rounds show it', () => {
    expect(rulesOf(lastVisits(out(240)))).toEqual([]);
    expect(rulesOf(lastVisits(out(240), out(280)))).toEqual(['salts']);
  });
  it('today’s flush is said beside the lately one, with what each leaves', () => {
    const [advice] = judge({
      ...lastVisits(out(340), out(350)),
      flush: { ml: 1100, afterEcUsCm: 262, latelyMl: 600, latelyAfterEcUsCm: 496, notEnough: false },
    });
    expect(advice!.title).toBe('Flush with 1.1 L, not 600 mL');
    expect(withStrengths(advice!.then, (ec) => String(ec / 2))).toBe(
      'I expect 131 after this; 600 mL would leave about 248.',
    );
  });
  it('clay that gives is leached, not flushed; an overloaded one first of all', () => {
    const gives = { ...lastVisits(out(470), out(465), out(470), out(460), out(480)), unleached: true };
    expect(rulesOf(gives)).toEqual(['clayGives']);
    expect(rulesOf({ ...gives, unleached: undefined })).toEqual(['salts']);
    // Where it was well at first, it is gathering, whatever the clay.
    expect(rulesOf({ ...lastVisits(out(460), out(480)), unleached: true })).toEqual(['salts']);
    expect(rulesOf({ ...gives, saltCheck: { on: TODAY, topEcUsCm: 660 } })).toEqual(['overloaded']);
  });
  it('a ring that full flushes did not take asks for plain water; without a crust it is fed again', () => {
    const ring = lastLooks({ crust: 'ring' }, { crust: 'ring' });
    expect(judge(ring)[0]).toMatchObject({ rule: 'crust', act: { kind: 'plainOnly' } });
    expect(rulesOf({ ...ring, plainOnly: true })).toEqual([]);
    expect(judge({ ...calm, plainOnly: true })[0]).toMatchObject({ rule: 'backToFeed', act: { kind: 'backToFeed' } });
  });
  it('feed drops out where a crust meets a high pH, and then drift is not said besides', () => {
    const facts = { ...lastVisits({ cameOutPh: 7.7 }, { cameOutPh: 7.8 }), looks: lastLooks({ crust: 'some' }).looks };
    expect(rulesOf(facts)).toEqual(['dropsOut']);
  });
  it('a change of the pour is advised on a reading of the last change; unread, the reading comes first', () => {
    const [read] = judge(lastVisits({ cameOutPh: 7.3 }, { cameOutPh: 7.4 }));
    expect(read).toMatchObject({ rule: 'drift', title: 'Pour it lower, or change sooner' });
    const [unread] = judge(lastVisits({ cameOutPh: 7.3 }, { cameOutPh: 7.4 }, { cameOutPh: undefined }));
    expect(unread).toMatchObject({
      rule: 'drift',
      title: 'Read its pH before its pour is changed',
      act: { kind: 'plan', words: 'Read its pH at the change' },
    });
  });
  it('pH under 5 twice, swings, and a level hardly touched', () => {
    expect(rulesOf(lastVisits({ cameOutPh: 4.7 }, { cameOutPh: 4.6 }))).toEqual(['tooLow']);
    expect(rulesOf(lastVisits(out(140), out(260), out(130), out(270), out(120)))).toEqual(['unsteady']);
    expect(rulesOf(lastVisits({ leftMl: 220 }, { leftMl: 225 }))).toEqual(['notDrinking']);
  });
  it('one empty reservoir is enough, and a pot that will be dry before its day', () => {
    expect(judge(lastVisits({ leftMl: 0 }))[0]).toMatchObject({ rule: 'dry', title: 'It ran dry' });
    expect(judge({ ...calm, daysUntilDry: 2 })[0]!.because).toMatch(/in 2 days, and due in 7 days/);
    expect(rulesOf({ ...calm, daysUntilDry: 9 })).toEqual([]);
  });
});

describe('what the plant shows', () => {
  const months = (...ca: number[]) =>
    ca.map((value, i) => ({ month: `2026-${String(6 + i).padStart(2, '0')}`, mg: { N: 10, Ca: value }, stillL: 1 }));
  it('calcium before more feed: by its tips, and by what it is given', () => {
    expect(rulesOf(lastLooks({ tips: 'brown' }, { tips: 'worse' }))).toEqual(['calcium']);
    const fell = judge({ ...calm, given: months(7, 7, 7, 3.4) })[0]!;
    expect(fell).toMatchObject({
      rule: 'calcium',
      figures: [{ value: 7 }, { value: 7 }, { value: 7 }, { value: 3.4 }],
    });
    expect(fell.because).toContain('3.4 mg of calcium for each 10 of nitrogen, from 7.0 before');
    expect(rulesOf({ ...calm, given: months(7, 6.5, 7, 5.5) })).toEqual([]);
    const hungry = lastLooks({ tips: 'brown', leaves: 'marks' }, { tips: 'brown', leaves: 'marks' });
    expect(rulesOf(hungry)).toEqual(['calcium']);
  });
  it('magnesium with the soak that is open, or a pinch where none is; never for a sun scar', () => {
    const pale = lastLooks({ leaves: 'old pale' }, { leaves: 'old pale' });
    expect(judge({ ...pale, soaks: [{ what: 'magnesium', open: true }] })[0]!.title).toBe('Magnesium at its next soak');
    expect(judge(pale)[0]!.title).toBe('A little magnesium with the feed');
    expect(rulesOf(lastLooks({ leaves: 'old pale', sun: 'scar' }, { leaves: 'old pale', sun: 'scar' }))).toEqual([
      'sun',
    ]);
  });
  it.each([
    ['rot', { rot: 'soft' }, 1, 'rot'],
    ['many pests', { pests: 'many' }, 2, 'pestsMany'],
    ['growth under the fill', { growth: 'below the fill' }, 1, 'growthLow'],
    ['some pests', { pests: 'some' }, 2, 'pests'],
    ['loose', { loose: 'loose' }, 2, 'loose'],
    ['mould', { mould: 'fuzzy' }, 2, 'mould'],
    ['burnt root tips', { air: 'burnt tips' }, 2, 'airTips'],
    ['floppy leaves', { leaves: 'floppy' }, 2, 'hungry'],
  ] as [string, Record<string, string>, number, string][])('%s', (_name, cues, times, rule) => {
    expect(rulesOf(lastLooks(...Array.from({ length: times }, () => cues)))).toEqual([rule]);
    // Gone at the last two looks, nothing is said any more.
    expect(rulesOf(lastLooks(...Array.from({ length: times }, () => cues), {}, {}))).toEqual([]);
  });
  it('it takes all it gets, in growth; at rest that says nothing', () => {
    const takes = lastVisits(out(100), out(105), out(95));
    expect(rulesOf(takes)).toEqual(['takesAll']);
    expect(rulesOf({ ...takes, stage: 'rest' })).toEqual([]);
  });
  it('roots that start are the time for the soak in season; rooted plants may be fed', () => {
    const roots = lastLooks({ roots: 'few' }, { roots: 'many' });
    expect(rulesOf({ ...roots, soaks: [{ what: 'silicate', open: true }] })).toEqual(['newRoots']);
    expect(rulesOf({ ...roots, soaks: [{ what: 'silicate', open: false }] })).toEqual([]);
    expect(rulesOf({ ...roots, stage: 'rooting' })).toEqual(['rooted']);
    expect(
      rulesOf({
        ...lastLooks({ roots: 'few', rot: 'soft' }, { roots: 'few', rot: 'soft' }),
        soaks: [{ what: 'silicate', open: true }],
      }),
    ).toEqual(['rot']);
  });
  it('a soak whose season is over is held, with its dates', () => {
    const soaks = [{ what: 'silicate' as const, open: false, lastOn: '2026-09-28', nextFrom: '2027-05-01' }];
    expect(judge({ ...calm, soaks })[0]).toMatchObject({
      rule: 'holdSoak',
      title: 'Hold the silicate',
      then: 'Last on 28 Sep, next from 1 May.',
      act: { kind: 'hold' },
    });
    expect(rulesOf({ ...calm, soaks: [{ ...soaks[0]!, lastOn: '2026-05-28' }] })).toEqual([]);
  });
});
