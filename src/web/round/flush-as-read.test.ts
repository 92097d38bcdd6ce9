import { describe, expect, it } from 'vitest';
import type { RoundPot } from '../../contract/round.ts';
import { NOTHING_SPECIAL, TODAY } from '../../../tests/round-fixtures.ts';
import { flushAsRead } from './flush-as-read.ts';

const WATERS = [
  { id: 'still', name: 'Still water', ppm: 4, scarce: true },
  { id: 'tap', name: 'Kitchen tap', ppm: 180, scarce: false },
];
const pot = (more: Partial<RoundPot> = {}): RoundPot => ({
  id: 'p',
  code: 'R-01',
  name: 'Hoya',
  place: 'East sill',
  clay: null,
  reservoirMl: 260,
  fillMl: 250,
  flushMl: 275,
  flush: {
    stages: [{ waterId: 'still', water: 'Still water', ml: 275 }],
    runOffPpm: 40,
    afterPpm: 90,
    habitMl: 250,
    why: 'wets all the clay',
    by: {
      ...{ poresPpm: 110, poreMl: 100, efficiency: { mean: 0.6, sd: 0.15 }, mixPpm: 100 },
      ...{ habitTimes: 1, compareMl: 275, waterIds: ['still'] },
    },
  },
  due: { dueOn: TODAY, status: 'due', daysLate: 0, pastLimit: 0, words: 'due' },
  done: null,
  mixKey: 'mix',
  drawing: { level: 0.3, levelIsGuess: false, phLow: 5.5, phHigh: 6.5, salts: 0, stage: 'growth', form: 'clay' },
  expected: { ppm: 110, atLarge: false },
  ...NOTHING_SPECIAL,
  note: null,
  lastPouredPpm: 104,
  read: null,
  ...more,
});
const read = (ppm: string, flush = '', of = pot()) => flushAsRead(of, WATERS, { ppm, flush });
const width = ({ range }: ReturnType<typeof read>) => range!.runOff.high - range!.runOff.low;

describe('a flush after the reading just typed', () => {
  it('grows with it, uses only the waters of its regimen, and is the plan again where nothing legible is typed', () => {
    const [mild, strong] = [read('95'), read('900')];
    expect(mild.replanned).toBe(false);
    expect(strong.replanned).toBe(true);
    expect(strong.flushMl).toBeGreaterThan(mild.flushMl);
    expect(strong.flush.stages.every((s) => s.waterId === 'still')).toBe(true);
    for (const typed of ['', 'sixty', 'over'])
      expect(read(typed)).toMatchObject({ replanned: false, flushMl: 275, flush: { why: 'wets all the clay' } });
  });
  it('takes a reading of 0 as one', () => {
    const { flushMl, range } = read('0');
    expect(flushMl).toBeGreaterThan(0);
    expect(range!.filled.high).toBeLessThan(110);
  });
  it('says what the volume that is typed leaves, less water more', () => {
    expect(read('900', '60').range!.filled.high).toBeGreaterThan(read('900').range!.filled.high);
    // Not flushed at all: what stands there stays.
    expect(read('900', '0').range!.runOff.low).toBeGreaterThan(700);
    expect(read('900', 'a cup').range).toEqual(read('900').range);
  });
  it('is less sure before the reading than after, and least of a pot nothing was ever read of', () => {
    expect(width(read('110'))).toBeLessThan(width(read('')));
    expect(width(read('', '', pot({ expected: { ppm: 110, atLarge: true } })))).toBeGreaterThan(width(read('')));
  });
  it('by the rule of thumb says no range, whatever is typed', () => {
    const thumb = pot({ flush: { ...pot().flush, by: null } });
    expect(read('900', '', thumb)).toMatchObject({ range: undefined, replanned: false, flushMl: 275 });
  });
});
