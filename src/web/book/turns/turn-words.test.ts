import { describe, expect, it } from 'vitest';
import type { TurnCompared, TurnFoundView } from '../../../contract/turns.ts';
import { intervalWords, standsOn, verdictOf } from './turn-words.ts';
import { telling } from './use-turns.ts';

const FOUND: TurnFoundView = {
  key: 'gap',
  before: 72,
  after: 36,
  pots: 8,
  against: 'unchanged',
  difference: { mean: -30, low: -45, high: -15 },
};
const TURN = {
  id: 'a',
  kind: 'regimen' as const,
  on: '2026-08-05',
  until: null,
  title: 'Weekly',
  named: false,
  what: [],
  potIds: ['x', 'y'],
  hidden: false,
  joined: [],
};

describe('what may be said of a measure', () => {
  it('goes by its interval alone', () => {
    expect(verdictOf(FOUND)).toEqual({ words: 'less salt gathering', tone: 'good' });
    expect(verdictOf({ ...FOUND, difference: { mean: 30, low: 15, high: 45 } })).toEqual({
      words: 'more salt gathering',
      tone: 'late',
    });
    expect(verdictOf({ ...FOUND, difference: { mean: -30, low: -61, high: 1 } }).words).toBe(
      'no difference to be seen',
    );
    expect(verdictOf({ ...FOUND, difference: null, against: 'nothing' }).words).toBe(
      'no saying whether it was the season',
    );
    expect(verdictOf({ ...FOUND, difference: null }).words).toBe('too few readings to say');
    expect(verdictOf({ ...FOUND, before: 72, after: 72.3 }).words).toBe('hardly any');
  });
  it('of pH neither way is praised', () => {
    expect(
      verdictOf({ ...FOUND, key: 'ph', before: 6.8, after: 6.4, difference: { mean: -0.4, low: -0.6, high: -0.2 } }),
    ).toEqual({ words: 'lower', tone: '' });
  });
  it('the interval is in words', () => {
    expect(intervalWords(FOUND)).toBe('−30 (−45 to −15) ppm, against pots of the same place that did not turn');
  });
});

describe('what a comparison stands on', () => {
  const compared: TurnCompared = { turn: TURN, weeks: 8, weeksSince: 3, found: [FOUND], alsoMoved: [] };
  it('says how long ago, against what, and what else moved', () => {
    expect(standsOn(compared)).toBe(
      'Only 3 weeks have gone by since. Set against pots of the same place that did not turn. Nothing else moved in these weeks.',
    );
    expect(
      standsOn({ ...compared, weeksSince: 9, alsoMoved: [{ id: 'b', on: '2026-08-09', title: 'New feed' }] }),
    ).toMatch(/Also in these weeks: New feed\.$/);
    expect(standsOn({ ...compared, found: [] })).toMatch(/Nothing was read on both sides/);
  });
});

describe('the turn that is looked at first', () => {
  const view = (turns: (typeof TURN)[]) => ({
    today: '2026-11-25',
    from: '2025-11-24',
    since: null,
    pots: 2,
    turns,
    measures: [],
  });
  it('is the newest of which something can be told', () => {
    expect(telling(view([TURN, { ...TURN, id: 'b', on: '2026-11-20' }]))).toBe('a');
    expect(
      telling(
        view([
          { ...TURN, potIds: ['x'] },
          { ...TURN, id: 'b', on: '2026-11-20' },
        ]),
      ),
    ).toBe('b');
    expect(telling(view([]))).toBeUndefined();
  });
});
