import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  askOf,
  byOutcome,
  countDips,
  dipMinutes,
  dipsLeft,
  foreseenBy,
  isNear,
  otherSide,
  READABLES,
  readStates,
  valueOfReading,
  whatToRead,
  type PotToRead,
  type ReadState,
} from './index.ts';
import { NOT_WIDENED, type SeenInterval } from '../drift/index.ts';

const calm: ReadState = {
  everRead: 12,
  readInClay: 12,
  visits: 12,
  unread: 0,
  sinceSurprise: undefined,
  lastOff: 0.3,
  foreseen: { middle: 6, sd: 0.1 },
  limits: [5.2, 6.9],
};
/** So many rounds after it was read last. */
const after = (rounds: number, more: Partial<ReadState> = {}): ReadState => ({
  ...calm,
  visits: 12 + rounds,
  unread: rounds,
  ...more,
});

describe('a budget', () => {
  it('is what is left of it after the dips that were made; minutes are dips of 40 s', () => {
    expect(dipsLeft({ how: 'asked' }, 28, 3)).toBe(Infinity);
    expect(dipsLeft({ how: 'little' }, 28, 3)).toBe(4);
    expect(dipsLeft({ how: 'atMost', most: 9, of: 'dips' }, 28, 3)).toBe(6);
    expect(dipsLeft({ how: 'atMost', most: 6, of: 'minutes' }, 28, 0)).toBe(9);
    expect(dipsLeft({ how: 'atMost', most: 0, of: 'dips' }, 28, 3)).toBe(0);
    expect(dipMinutes(9)).toBe(6);
  });
});

describe('a reading of a pot', () => {
  it('has its turn every third round by itself, and never later', () => {
    for (const lot of [0, 1, 2]) {
      let state = calm;
      const asked: number[] = [];
      for (let round = 0; round < 12; round++) {
        const ask = askOf(state, lot);
        if (ask.asked) asked.push(round);
        state = { ...state, visits: state.visits + 1, unread: ask.asked ? 0 : state.unread + 1 };
      }
      expect(asked.length).toBeGreaterThanOrEqual(4);
      for (const [i, round] of asked.entries()) expect(round - (asked[i - 1] ?? -1)).toBeLessThanOrEqual(3);
    }
  });
  it('says when its turn is: nothing happening, it is asked then and not before', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1 }),
        fc.integer({ min: 0, max: 20 }),
        fc.nat({ max: 5 }),
        (unread, visits, lot) => {
          const state = { ...calm, unread, visits };
          const ask = askOf(state, lot);
          if (ask.asked) return;
          for (let n = 1; n <= ask.turnIn; n++) {
            const then = askOf({ ...state, unread: unread + n, visits: visits + n }, lot);
            expect(then.asked !== null).toBe(n === ask.turnIn);
          }
        },
      ),
    );
  });
  it('is asked at first, in new clay, and twice after a surprise', () => {
    expect(askOf(after(0, { everRead: 3 }), 0)).toEqual({ asked: 'first' });
    expect(askOf(after(0, { foreseen: undefined }), 0)).toEqual({ asked: 'first' });
    expect(askOf(after(0, { readInClay: 1 }), 0)).toEqual({ asked: 'repotted' });
    expect(askOf(after(0, { sinceSurprise: 1 }), 0)).toEqual({ asked: 'surprised' });
    expect(askOf(after(0, { sinceSurprise: 2, visits: 13 }), 0)).toMatchObject({ asked: null });
  });
  it('that leaned is asked once more; near a limit, every second round', () => {
    expect(askOf(after(0, { lastOff: -1.9 }), 1)).toEqual({ asked: 'leaning' });
    const near = { foreseen: { middle: 6.85, sd: 0.1 } };
    expect(askOf(after(1, near), 1)).toEqual({ asked: 'near' });
    expect(askOf(after(0, { ...near, visits: 13 }), 1)).toEqual({ asked: null, turnIn: 1 });
  });
  it('past its limit it is followed as near it: below the lower, above the upper, and above the only one', () => {
    const at = (middle: number, limits: readonly number[]) => isNear({ foreseen: { middle, sd: 0.1 }, limits });
    expect([at(7.9, [5.2, 6.9]), at(4.6, [5.2, 6.9]), at(6, [5.2, 6.9])]).toEqual([true, true, false]);
    expect([at(6, [5]), at(4, [5]), at(4.95, [5]), at(6, [])]).toEqual([true, false, true, false]);
    expect(isNear({ foreseen: undefined, limits: [5] })).toBe(false);
  });
  it('chosen by how another came out says nothing of forecasts; one whose turn it was does', () => {
    expect((['surprised', 'odd', 'mate', 'leaning'] as const).every(byOutcome)).toBe(true);
    expect([...(['first', 'repotted', 'near', 'turn'] as const), null].some(byOutcome)).toBe(false);
  });
});

const pot = (id: string, more: Partial<PotToRead> = {}): PotToRead => ({
  id,
  lots: { ppm: 1, ph: 1 },
  can: 'can A',
  never: [],
  states: { ppm: after(0, { visits: 13 }), ph: after(0, { visits: 13 }) },
  ...more,
});

describe('a round', () => {
  const pots = [pot('a'), pot('b'), pot('c', { can: 'can B' })];
  it('asks nothing of pots that are known and have had their turn', () => {
    const asks = whatToRead(pots, []);
    expect(countDips(asks)).toEqual({ asked: 0, missed: 0, pots: 0 });
  });
  it('asks the others of a can that read double, until one of them reads as foreseen', () => {
    const double = { potId: 'a', can: 'can A', off: { ppm: 4 }, ppmTimes: 1.7 };
    const asked = whatToRead(pots, [double]);
    expect(asked.map(({ ppm }) => ppm.asked)).toEqual(['odd', 'mate', null]);
    expect(asked[1]!.ph.asked).toBeNull();
    const cleared = whatToRead(
      [...pots, pot('d')],
      [double, { potId: 'b', can: 'can A', off: { ppm: 0.2 }, ppmTimes: 1 }],
    );
    expect(cleared.at(-1)!.ppm.asked).toBeNull();
  });
  it('reads a pot in which more is left than can be', () => {
    const [a] = whatToRead(pots, [{ potId: 'a', can: 'can A', off: { left: 3 } }]);
    expect([a!.ppm.asked, a!.ph.asked]).toEqual(['odd', 'odd']);
  });
  it('never asks a pot that it is told never to', () => {
    const [a] = whatToRead([pot('a', { never: ['ppm', 'ph'], states: { ppm: after(9), ph: after(9) } })], []);
    expect(a).toMatchObject({ ppm: { asked: null, never: true }, ph: { asked: null, never: true } });
  });
  it('within a budget the alarms come first; what was missed is told, and never more is asked than was offered', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            unread: fc.integer({ min: 0, max: 5 }),
            surprised: fc.boolean(),
            middle: fc.double({ min: 5, max: 7, noNaN: true }),
          }),
          {
            minLength: 1,
            maxLength: 12,
          },
        ),
        fc.nat({ max: 30 }),
        (drawn, dips) => {
          const many = drawn.map(({ unread, surprised, middle }, i) =>
            pot(`p${i}`, {
              states: {
                ppm: after(unread, { sinceSurprise: surprised ? 0 : undefined }),
                ph: after(unread, { foreseen: { middle, sd: 0.1 } }),
              },
            }),
          );
          const all = countDips(whatToRead(many, []));
          const asks = whatToRead(many, [], dips);
          const some = countDips(asks);
          expect(some.asked).toBe(Math.min(dips, all.asked));
          expect(some.asked + some.missed).toBe(all.asked);
          const alarms = asks.filter(({ ppm }) => ppm.asked === 'surprised');
          if (alarms.some(({ ppm }) => ppm.missed))
            for (const one of asks)
              for (const what of READABLES) if (one[what].asked === 'turn') expect(one[what].missed).toBe(true);
        },
      ),
    );
  });
});

describe('what a log says of its readings', () => {
  const interval = (cameOutPh: number | undefined, middle = 6): SeenInterval =>
    ({
      endedOn: '2026-11-01',
      kinds: [],
      cameOutPh,
      cameOutEcUsCm: undefined,
      foretold: {
        left: { middle: 0.3, half: 0.1 },
        ec: { middle: 5, half: 0.2 },
        ph: { middle, half: 0.2 },
      },
    }) as unknown as SeenInterval;
  const of = (...intervals: SeenInterval[]) =>
    readStates(intervals, { ppm: 0, ph: 9 }, () => NOT_WIDENED, {
      foreseen: { ppm: undefined, ph: { middle: 6, sd: 0.1 } },
      limits: { ppm: [], ph: [] },
    }).ph;
  it('counts visits since it was read, and readings since a surprise', () => {
    expect(of()).toMatchObject({ visits: 0, unread: Infinity, readInClay: 0, sinceSurprise: undefined });
    expect(of(interval(6.1), interval(undefined))).toMatchObject({ visits: 2, unread: 1, readInClay: 1 });
    expect(of(interval(6.9), interval(6))).toMatchObject({ sinceSurprise: 1, unread: 0 });
    expect(of(interval(6), interval(6.9))).toMatchObject({ sinceSurprise: 0 });
    expect(of(interval(6.9), interval(6), interval(6))).toMatchObject({ sinceSurprise: undefined });
  });
  it('takes the wider side of a range for how sure a forecast is', () => {
    const { foretold } = interval(6);
    const widths = { ...NOT_WIDENED, ph: { below: 1, above: 2 } };
    expect(foreseenBy(foretold, widths, 'ph').sd).toBeCloseTo(0.4 / 1.645, 3);
  });
});

describe('worth', () => {
  it('on the limit it is even which side it stands on', () => {
    expect(otherSide({ foreseen: { middle: 6.9, sd: 0.2 }, limits: [5.2, 6.9] })).toBeCloseTo(0.5, 6);
    expect(otherSide({ foreseen: undefined, limits: [6] })).toBe(0);
  });
  it('a reading is never worth less than nothing, nor more than knowing exactly', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: 0.01, max: 2, noNaN: true }),
        fc.double({ min: 0, max: 2, noNaN: true }),
        (mean, sd, noise) => {
          const value = valueOfReading({ mean, sd }, noise, 0, 1);
          expect(value).toBeGreaterThanOrEqual(0);
          expect(value).toBeLessThanOrEqual(valueOfReading({ mean, sd }, 0, 0, 1) + 1e-9);
        },
      ),
    );
    expect(valueOfReading({ mean: 1, sd: 0.5 }, Infinity, 0, 1)).toBe(0);
  });
});
