import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { judgeBySchools } from './by-school.ts';

const BAND = { below: 0.1, above: 0.2 };
const verdicts = (ppm: number) =>
  Object.fromEntries(judgeBySchools(2 * ppm, BAND).map((s) => [s.school, s.verdict] as const));

describe('one reading by each school', () => {
  it('180 is over for constant dilute, on target for split waterings, weak for the strong refill (common practice)', () => {
    expect(verdicts(180)).toMatchObject({
      constantDilute: 'over',
      split: 'onTarget',
      fortnight: 'onTarget',
      soaksInSeason: 'weak',
      plain: 'over',
    });
  });
  it('plain water is on target only for those who feed nothing', () => {
    expect(verdicts(0)).toMatchObject({ plain: 'onTarget', constantDilute: 'nothing' });
  });
  it('more is never judged weaker', () => {
    const rank = { nothing: 0, weak: 1, onTarget: 2, over: 3 };
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 3000, noNaN: true }),
        fc.double({ min: 0, max: 500, noNaN: true }),
        (net, more) => {
          const [a, b] = [judgeBySchools(net, BAND), judgeBySchools(net + more, BAND)];
          return a.every((s, i) => rank[s.verdict] <= rank[b[i]!.verdict]);
        },
      ),
    );
  });
});
