import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { LookBack } from '../../../contract/look-back.ts';
import type { Turn } from '../../../contract/turns.ts';
import { serverKit, TODAY, type Kit } from '../../../../tests/server-kit.ts';
import type { LookedBack, PastVisit, PotPast } from '../../collection/index.ts';
import { whyOutside } from './why-outside.ts';

describe('looking back', () => {
  let kit: Kit;
  beforeAll(async () => {
    kit = await serverKit(12);
  }, 60_000);
  afterAll(() => kit.close());
  it('last month’s forecasts are judged by what was read then, each reading in its own range', async () => {
    const { figures, to } = (await kit.call<LookBack>('GET', '/api/book/forecasts')).body;
    expect(to).toBe(TODAY);
    const ppm = figures.find((f) => f.what === 'ppm')!;
    expect(ppm.readings).toBeGreaterThan(60);
    expect(ppm.inside / ppm.readings).toBeGreaterThan(0.8);
    for (const { marks, readings, inside } of figures) {
      expect(marks).toHaveLength(readings);
      expect(marks.filter(({ read, low, high }) => read >= low && read <= high)).toHaveLength(inside);
      expect(marks.every(({ low, middle, high }) => low <= middle && middle <= high)).toBe(true);
      expect(
        marks.filter(({ read, low, high }) => read >= low && read <= high).every(({ why }) => why.length === 0),
      ).toBe(true);
    }
  });
  it('the pH pen that was found low stands beside what it read outside', async () => {
    const { figures } = (await kit.call<LookBack>('GET', '/api/book/forecasts')).body;
    const out = figures
      .find((f) => f.what === 'ph')!
      .marks.filter(({ on, read, low, high }) => on >= '2026-11-04' && (read < low || read > high));
    for (const { why } of out) expect(why).toContainEqual(expect.objectContaining({ kind: 'turn', isPen: true }));
  });
});

describe('why a reading landed outside', () => {
  const visit = (on: string, more: Partial<PastVisit> = {}): PastVisit => ({
    on,
    since: undefined,
    daysLate: 0,
    batchId: 'other',
    waterId: null,
    givenEcUsCm: 180,
    givenPh: 6,
    flushMl: 0,
    flushStillMl: 0,
    oldEcUsCm: 200,
    gapEcUsCm: 20,
    oldPh: 6.4,
    leftMl: 100,
    dry: false,
    stillL: 0.2,
    cost: undefined,
    troubles: 0,
    tainted: false,
    ...more,
  });
  /** Read weekly; the mix of the last filling before the reading is its own. */
  const pot = (batchId: string, more: Partial<PastVisit> = {}): PotPast => ({
    grown: [],
    visits: [
      ...['2026-10-06', '2026-10-13', '2026-10-20', '2026-10-27'].map((on) => visit(on)),
      visit('2026-11-03', { batchId }),
      visit('2026-11-10', { since: '2026-11-03', ...more }),
    ],
  });
  const read = (potId: string, at: number): LookedBack => ({
    what: 'ppm',
    potId,
    code: potId,
    on: '2026-11-10',
    read: at,
    band: { low: 80, middle: 100, high: 120 },
    width: 1,
  });
  const turn = (more: Partial<Turn>): Turn => ({
    id: 't',
    kind: 'place',
    on: '2026-11-05',
    until: null,
    title: 'Moved to the sill',
    named: false,
    what: [],
    potIds: ['a'],
    hidden: false,
    joined: [],
    ...more,
  });
  const why = (mine: readonly LookedBack[], past: Record<string, PotPast>, turns: readonly Turn[] = []) =>
    whyOutside(mine, {
      past: new Map(Object.entries(past)),
      turns,
      pens: new Map([
        ['grey', 'ppm'],
        ['yellow', 'ph'],
      ]),
    });

  it('inside its range nothing is asked; where nothing is known nothing is said', () => {
    expect(why([read('a', 100)], { a: pot('m') }, [turn({})])).toEqual([[]]);
    expect(why([read('a', 150)], { a: pot('m') })).toEqual([[]]);
  });
  it('is what was changed for this pot in that filling or shortly before; not later, not in another pot, not what is hidden', () => {
    const told = (more: Partial<Turn>) => why([read('a', 150)], { a: pot('m') }, [turn(more)])[0]!.length;
    expect(told({})).toBe(1);
    expect(told({ on: '2026-10-22' })).toBe(1);
    expect(told({ on: '2026-10-10' })).toBe(0);
    expect(told({ on: '2026-11-11' })).toBe(0);
    expect(told({ potIds: ['b'] })).toBe(0);
    expect(told({ potIds: null })).toBe(1);
    expect(told({ hidden: true })).toBe(0);
    expect(told({ id: 'penOff|x|grey', kind: 'penOff', on: '2026-09-01', until: '2026-11-20', potIds: null })).toBe(1);
    // A pH pen says nothing of strength.
    expect(told({ id: 'penOff|x|yellow', kind: 'penOff', on: '2026-09-01', until: null, potIds: null })).toBe(0);
    expect(told({ id: 'penOff|x|grey', kind: 'penOff', on: '2026-09-01', until: '2026-11-01', potIds: null })).toBe(0);
  });
  it('is its mix where most pots of it landed on that side, and its day where those of other mixes did too', () => {
    const mixed = Object.fromEntries(['a', 'b', 'c'].map((id) => [id, pot('double')]));
    const apart = Object.fromEntries(['d', 'e', 'f', 'g'].map((id) => [id, pot(`mix ${id}`)]));
    const outside = ['a', 'b', 'c'].map((id) => read(id, 200));
    const calm = ['d', 'e', 'f', 'g'].map((id) => read(id, 100));
    expect(why([...outside, ...calm], { ...mixed, ...apart })[0]).toEqual([{ kind: 'mix', n: 3, of: 3 }]);
    const all = why([...outside, ...calm.map((one) => ({ ...one, read: 190 }))], { ...mixed, ...apart });
    expect(all[0]).toEqual([
      { kind: 'mix', n: 3, of: 3 },
      { kind: 'day', n: 7, of: 7 },
    ]);
    expect(all[4]).toEqual([{ kind: 'day', n: 7, of: 7 }]);
    // As many below as above is no side.
    expect(why([read('a', 200), read('b', 10), read('c', 200)], mixed)[0]).toEqual([]);
  });
  it('is a pot found dry, and one of which little is known', () => {
    expect(why([read('a', 200)], { a: pot('m', { dry: true }) })[0]).toEqual([{ kind: 'dry' }]);
    // That it was dry is what was read then, and why of nothing.
    expect(why([{ ...read('a', 10), what: 'left' }], { a: pot('m', { dry: true }) })[0]).toEqual([]);
    const unread = { ...pot('m'), visits: pot('m').visits.map((v) => ({ ...v, oldPh: undefined })) };
    expect(why([{ ...read('a', 7), what: 'ph', band: { low: 6, middle: 6.2, high: 6.4 } }], { a: unread })[0]).toEqual([
      { kind: 'few', n: 0 },
    ]);
    const young = { ...pot('m'), visits: pot('m').visits.slice(-2) };
    expect(why([read('a', 200)], { a: young })[0]).toEqual([{ kind: 'few', n: 1 }]);
  });
});
