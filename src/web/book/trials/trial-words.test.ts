import { describe, expect, it } from 'vitest';
import type { TrialView } from '../../../contract/trials.ts';
import { canPlan, changeOf, EMPTY_TRIAL, trialOf } from './trial-form-values.ts';
import { chipOf, figure, size, verdictWords } from './trial-words.ts';

const A_TRIAL: TrialView = {
  id: 't',
  question: 'Does it?',
  change: { kind: 'flushWith', with: 'still' },
  arms: ['flushed with still water', 'as it was'],
  measure: 'strength',
  matters: Math.log(1.2),
  startOn: '2026-09-01',
  weeks: 12,
  endOn: '2026-11-24',
  endedOn: null,
  endWhy: '',
  weeksGone: 12,
  state: 'over',
  alike: [],
  pots: [],
  pairs: 6,
  difference: { mean: Math.log(0.8), low: Math.log(0.7), high: Math.log(0.9) },
  asDone: null,
  smallest: Math.log(1.15),
  verdict: 'real',
  unequal: [],
};

describe('what a trial says', () => {
  it('names what so many pairs can show, the difference and its range', () => {
    expect(verdictWords(A_TRIAL)).toMatch(
      /^6 pairs can show a difference of 15.% or more; this one is −20.% \(−30.% to −10.%\)\.$/,
    );
  });
  it('real and still less than would matter is said to be both', () => {
    const slight = { ...A_TRIAL, difference: { mean: Math.log(0.94), low: Math.log(0.91), high: Math.log(0.96) } };
    expect(verdictWords(slight)).toMatch(
      /this one is −6.% \(−9.% to −4.%\)\. It is less than the 20.% that would matter\.$/,
    );
    expect(chipOf(slight).words).toBe('real, but less than would matter');
    expect(chipOf(A_TRIAL).words).toBe('a real difference');
  });
  it('before its time says how far it is, and that only the rare is called real', () => {
    const words = verdictWords({ ...A_TRIAL, state: 'running', weeksGone: 5, verdict: 'open' });
    expect(words).toMatch(
      /^After 5 of 12 weeks: 6 pairs can show .* may be none\. Looked at before its time, only .* once in a thousand/,
    );
  });
  it('of nothing read, or of one pair, says that nothing can be said', () => {
    expect(verdictWords({ ...A_TRIAL, difference: null, verdict: 'few', pairs: 0 })).toMatch(/^No pair is read/);
    expect(verdictWords({ ...A_TRIAL, difference: null, verdict: 'few', pairs: 1 })).toMatch(/^One pair is read/);
  });
  it('no difference that matters is said with the range it must lie in', () => {
    expect(verdictWords({ ...A_TRIAL, verdict: 'none' })).toMatch(
      /less than would matter: it lies between −30.% and −10.%/,
    );
  });
});

describe('figures', () => {
  it('are in the reader’s terms, nought without a sign', () => {
    expect(figure('strength', Math.log(1.2))).toMatch(/^20.%$/);
    expect(figure('ph', -0.25)).toBe('−0.25');
    expect(figure('dry', -0.001)).toMatch(/^0.%$/);
    expect(size('left', -0.15)).toMatch(/^15.%$/);
  });
});

describe('what is typed', () => {
  it('becomes what the server knows, with a comma or a minus as people write them', () => {
    expect(changeOf({ ...EMPTY_TRIAL, kind: 'pourPh', by: '−0,8' })).toEqual({ kind: 'pourPh', by: -0.8 });
    expect(changeOf({ ...EMPTY_TRIAL, kind: 'strength', share: '50' })).toEqual({ kind: 'strength', share: 0.5 });
    expect(trialOf({ ...EMPTY_TRIAL, matters: '20' }).matters).toBeCloseTo(Math.log(1.2));
    expect(trialOf({ ...EMPTY_TRIAL, alike: 'same mix, , same days' }).alike).toEqual(['same mix', 'same days']);
  });
  it('is planned with once there is enough of it', () => {
    const some = { ...EMPTY_TRIAL, potIds: ['a', 'b'] };
    expect(canPlan(some)).toBe(true);
    for (const wrong of [
      { potIds: [] },
      { weeks: '' },
      { weeks: '1' },
      { matters: 'x' },
      { kind: 'own' as const },
      { kind: 'regimen' as const },
      { kind: 'days' as const, times: '' },
    ])
      expect(canPlan({ ...some, ...wrong })).toBe(false);
  });
});
