import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normal, seededRandom, type Random } from '../statistics/index.ts';
import { calibrate, habitShare, heard, NO_VOICES, scoreOf, widened, type ForecastKind, type Score } from './index.ts';

const Z90 = 1.645;
/** Share of forecasts that hold when each is made by what came before. @param off how far each reading lies, in halves of the range */
function heldBy(
  off: (i: number, random: Random) => number,
  rounds: number,
  pots = 8,
  kindsOf = (_: number): ForecastKind[] => [],
) {
  const random = seededRandom(11);
  const scores: Score[] = [];
  let [held, of] = [0, 0];
  for (let round = 0; round < rounds; round++) {
    const now: Score[] = [];
    for (let pot = 0; pot < pots; pot++) {
      const potId = `p${pot}`;
      const kinds = kindsOf(round);
      const own = scores.filter((s) => s.potId === potId);
      const { below, above } = calibrate({ own, others: scores.filter((s) => s.potId !== potId) }, kinds).ec;
      const miss = off(round, random);
      if (round >= 5) {
        of++;
        if (miss >= -below && miss <= above) held++;
      }
      now.push({ potId, on: String(round), kinds, off: { ec: miss } });
    }
    scores.push(...now);
  }
  return held / of;
}

describe('ranges by how earlier ones did', () => {
  it.each([
    ['three times too narrow', (_: number, random: Random) => (3 * normal(random)) / Z90],
    ['twice too wide', (_: number, random: Random) => (0.5 * normal(random)) / Z90],
    ['off to one side', (_: number, random: Random) => 1.2 + (0.7 * normal(random)) / Z90],
    ['with heavy tails', (_: number, random: Random) => (normal(random) * Math.exp(0.7 * normal(random))) / Z90],
  ])('hold eight and a half to ninety-eight in a hundred though the model is %s', (_, off) => {
    const held = heldBy(off, 30);
    expect(held).toBeGreaterThan(0.85);
    expect(held).toBeLessThan(0.985);
  });
  it('come back within some rounds where all at once it is three times worse', () => {
    const worse = (i: number, random: Random) => ((i > 15 ? 2.5 : 0.8) * normal(random)) / Z90;
    expect(heldBy(worse, 30)).toBeGreaterThan(0.8);
  });
  it('grow narrower than the model where it is too careful, and wider where it is too bold', () => {
    const scores = (size: number): Score[] =>
      Array.from({ length: 40 }, (_, i) => ({
        potId: 'a',
        on: String(i),
        kinds: [],
        off: { ph: (i % 2 ? size : -size) * (0.2 + 0.02 * i) },
      }));
    const width = (size: number) => calibrate({ own: scores(size), others: [] }, []).ph.above;
    expect(width(0.4)).toBeLessThan(0.8);
    expect(width(3)).toBeGreaterThan(2);
  });
  it('a kind that never came before starts wide, though its pot is tame', () => {
    const tame: Score[] = Array.from({ length: 60 }, (_, i) => ({
      potId: 'a',
      on: String(i),
      kinds: [],
      off: { ph: 0.3 * ((i % 5) - 2) },
    }));
    const [usual, changed] = [[], ['changed']] as const;
    const of = (kinds: readonly ForecastKind[]) => calibrate({ own: tame, others: [] }, kinds).ph.above;
    expect(of(changed)).toBeGreaterThan(1.2 * of(usual));
  });
  it('with nothing before them are a little wider than the model says, and never past their ends', () => {
    const { left, ec, ph } = calibrate({ own: [], others: [] }, []);
    for (const width of [left, ec, ph]) {
      expect(width.below).toBe(width.above);
      expect(width.above).toBeGreaterThan(1);
      expect(width.above).toBeLessThan(1.6);
    }
    fc.assert(
      fc.property(fc.array(fc.double({ min: -50, max: 50, noNaN: true }), { maxLength: 30 }), (misses) => {
        const own = misses.map((ph, i): Score => ({ potId: 'a', on: String(i), kinds: [], off: { ph } }));
        const { below, above } = calibrate({ own, others: [] }, []).ph;
        for (const side of [below, above]) {
          expect(side).toBeGreaterThanOrEqual(0.45);
          expect(side).toBeLessThanOrEqual(6);
        }
      }),
    );
  });
  it('a reading counts in halves of its own range, and what was not read not at all', () => {
    const foretold = { left: { middle: 0.5, half: 0.2 }, ec: { middle: 5, half: 0.1 }, ph: { middle: 6, half: 0.5 } };
    expect(scoreOf(foretold, { left: 0.6, ec: undefined, ph: 5.5 })).toEqual({ left: expect.closeTo(0.5, 12), ph: -1 });
    expect(scoreOf(foretold, { left: undefined, ec: Number.NaN, ph: undefined })).toEqual({});
  });
  it('widening keeps the middle, and strengths above nothing', () => {
    const band = { low: 100, middle: 200, high: 300 };
    const wide = widened(band, { below: 5, above: 2 }, 'ln');
    expect(wide.middle).toBe(200);
    expect(wide.low).toBeGreaterThan(0);
    expect(widened(band, { below: 5, above: 5 }, 'plain', 0, 250)).toEqual({ low: 0, middle: 200, high: 250 });
  });
});

describe('the model and the pot’s own habit', () => {
  const after = (model: number, reads: readonly number[], changed = false) =>
    reads.reduce((voices, read) => heard(voices, read, model, changed), NO_VOICES);
  it('whoever foretold better is listened to more', () => {
    expect(habitShare(after(5, [6.5, 6.5, 6.6, 6.5, 6.4]), false)).toBeGreaterThan(0.8);
    expect(habitShare(after(6.5, [6.5, 6.5, 6.5, 6.5]), false)).toBeLessThan(0.6);
    expect(habitShare(NO_VOICES, false)).toBe(0);
  });
  it('a habit says little where something changed, and is not blamed for what came of it', () => {
    const steady = after(6, [6.5, 6.5, 6.5, 6.5, 6.5]);
    expect(habitShare(steady, true)).toBeLessThan(0.9 * habitShare(steady, false));
    expect(heard(steady, 8, 6, true).ofHabit).toBe(steady.ofHabit);
    expect(heard(steady, 8, 6, false).ofHabit).toBeGreaterThan(steady.ofHabit);
  });
});
