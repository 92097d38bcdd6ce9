import { describe, expect, it } from 'vitest';
import { biasWords, learnedWords, reasonWords, verdict, type Figure } from './look-back-words.ts';

const figure = (more: Partial<Figure>): Figure => ({
  what: 'ph',
  readings: 40,
  inside: 36,
  width: 1,
  bias: 0,
  marks: [],
  ...more,
});

describe('forecasts looked back on, in words', () => {
  it('what was learned of them: a lean and a width that are worth a word; of few readings nothing', () => {
    expect(learnedWords([figure({}), figure({ what: 'ppm' })])).toBe('');
    expect(learnedWords([figure({ bias: 0.12, width: 1.2 }), figure({ what: 'ppm', bias: -8 })])).toBe(
      'pH came out 0.12 higher, and its ranges are 20\u00a0% wider than at first; strength came out 8 ppm lower.',
    );
    expect(learnedWords([figure({ bias: 0.5, readings: 5 })])).toBe('');
  });
  it('a verdict only where there are readings enough', () => {
    expect(verdict(figure({ readings: 10, inside: 2 })).words).toBe('too few to tell');
    expect(verdict(figure({ inside: 20 })).words).toBe('too sure');
    expect(verdict(figure({ inside: 40 })).words).toBe('on the shy side');
    expect(verdict(figure({})).words).toBe('as it should be');
    expect(biasWords({ what: 'left', bias: -12.4 })).toMatch(/^12.mL below$/);
  });
  it('each reason is a fact', () => {
    expect(reasonWords({ kind: 'turn', title: 'pH pen low', on: '2026-11-04', isPen: true }, 'ph')).toBe(
      'pH pen low, since 4 Nov',
    );
    expect(reasonWords({ kind: 'mix', n: 3, of: 4 }, 'ph')).toMatch(/^3 of the 4 pots of its mix/);
    expect(reasonWords({ kind: 'few', n: 0 }, 'ph')).toBe('it had never been read before');
    expect(reasonWords({ kind: 'few', n: 1 }, 'ph')).toBe('only one visit of it had been read before');
    expect(reasonWords({ kind: 'few', n: 1 }, 'clay')).toBe('only one reading of it came before');
    expect(reasonWords({ kind: 'guessedOff' }, 'clay')).toMatch(/poured off before was not measured/);
  });
});
