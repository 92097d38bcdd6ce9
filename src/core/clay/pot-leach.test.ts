import { describe, expect, it } from 'vitest';
import {
  changeLeach,
  drawBag,
  flatPpm as trueFlat,
  normal,
  seededRandom,
  leachHours,
  type SimBag,
  type SimLeach,
} from '../simulation/index.ts';
import {
  CLAY_AT_LARGE,
  fitClay,
  flushAgainstHold,
  forecastHolds,
  holdHistory,
  holdVerdict,
  POT_ERROR,
  potPrior,
  type ClayHold,
} from './index.ts';

const PLAN = { waterL: 0.45, minutes: 60, checkMinutes: 30, fedNetPpm: 90 };
const CLAY_L = 0.9;

/** A pot's clay in use: the grains of a simulated bag at rest at one strength, feed between them. */
function potClay(seed: number, ppm: number): { bag: SimBag; leach: SimLeach } {
  const bag = { ...drawBag(seededRandom(seed), CLAY_L), dust: 0 };
  return {
    bag,
    leach: {
      shells: bag.grains.map(() => new Array<number>(10).fill(ppm)),
      ppm: 90,
      waterL: bag.retained * PLAN.waterL,
    },
  };
}
function hold(
  { bag, leach }: { bag: SimBag; leach: SimLeach },
  minutes: readonly number[],
  noise: () => number,
): { readings: number[]; leach: SimLeach } {
  let now = changeLeach(bag, leach, PLAN.waterL);
  let at = 0;
  const readings = minutes.map((m) => {
    now = leachHours(bag, now, (m - at) / 60);
    at = m;
    return Math.max(0, Math.round(now.ppm + noise()));
  });
  return { readings, leach: changeLeach(bag, now, 0.001) };
}

/** Fed again, and left for some hours. */
const use = ({ bag, leach }: { bag: SimBag; leach: SimLeach }, hours: number): SimLeach => ({
  ...leachHours(bag, { ...leach, ppm: 90 }, hours),
  ppm: 90,
});

describe('a salt check and holds in the pot', () => {
  const check: ClayHold = {
    atHours: 0,
    waterL: PLAN.waterL,
    minutes: 30,
    readings: [{ afterMinutes: 30, netPpm: 203 }],
    fedNetPpm: 90,
  };
  it('learn how salty the clay is from one reading', () => {
    const history = holdHistory(CLAY_L, [check]);
    const unread = forecastHolds(
      fitClay(potPrior(CLAY_AT_LARGE), holdHistory(CLAY_L, [])),
      holdHistory(CLAY_L, []),
      0,
      PLAN,
      3,
    );
    const read = forecastHolds(fitClay(potPrior(CLAY_AT_LARGE), history, POT_ERROR), history, 168, PLAN, 3);
    expect(unread[0]!.high / unread[0]!.low).toBeGreaterThan(8);
    expect(read[0]!.high / read[0]!.low).toBeLessThan(2.5);
    expect(read[0]!.mean).toBeGreaterThan(120);
    for (let i = 1; i < read.length; i++) expect(read[i]!.mean).toBeLessThan(read[i - 1]!.mean);
  });
  it('foresee the check a week after a hold, nine times in ten, on clay of another make', () => {
    const random = seededRandom(91);
    let held = 0;
    const POTS = 50;
    for (let p = 0; p < POTS; p++) {
      const noise = () => 1.5 * normal(random);
      const start = potClay(3000 + p, 150 + 450 * random());
      const first = hold(start, [30], noise);
      const rested = use({ bag: start.bag, leach: first.leach }, 24);
      const second = hold({ bag: start.bag, leach: rested }, [30, 60], noise);
      const holds: ClayHold[] = [
        {
          atHours: 0,
          waterL: PLAN.waterL,
          minutes: 30,
          readings: [{ afterMinutes: 30, netPpm: first.readings[0]! }],
          fedNetPpm: 90,
        },
        {
          atHours: 24,
          waterL: PLAN.waterL,
          minutes: 60,
          readings: [{ afterMinutes: 30, netPpm: second.readings[0]! }],
          fedNetPpm: 90,
        },
      ];
      const history = holdHistory(CLAY_L, holds);
      const fit = fitClay(potPrior(CLAY_AT_LARGE), history, POT_ERROR);
      const [, after] = forecastHolds(fit, history, 25 + 168, PLAN, 1);
      const third = hold({ bag: start.bag, leach: use({ bag: start.bag, leach: second.leach }, 168) }, [60], noise);
      const week = hold({ bag: start.bag, leach: use({ bag: start.bag, leach: third.leach }, 168) }, [30], noise);
      if (week.readings[0]! >= after!.low - 1 && week.readings[0]! <= after!.high + 1) held++;
      expect(trueFlat(start.bag, week.leach)).toBeLessThan(trueFlat(start.bag, first.leach));
    }
    expect(held / POTS).toBeGreaterThan(0.8);
  });
  it('say how many holds, or to repot when three would not do', () => {
    const bar = (mean: number) => ({ mean, low: mean * 0.8, high: mean * 1.2 });
    expect(holdVerdict([212, 121, 74, 48].map(bar), 40, 0.3)).toEqual({
      kind: 'repot',
      litres: expect.closeTo(0.9) as unknown,
    });
    expect(holdVerdict([103, 60, 35].map(bar), 40, 0.3)).toEqual({ kind: 'hold', holds: 2, litres: 0.6 });
    expect(holdVerdict([35, 30].map(bar), 40, 0.3)).toEqual({ kind: 'clean' });
  });
  it('show why a flush is not a leach: minutes of passing water take far less than an hour of standing', () => {
    const history = holdHistory(CLAY_L, [check]);
    const shares = flushAgainstHold(
      fitClay(potPrior(CLAY_AT_LARGE), history, POT_ERROR),
      history,
      168,
      { litres: 0.54, minutes: 3 },
      PLAN,
    );
    expect(shares.flush.fromInside).toBeGreaterThan(0);
    expect(shares.hold.ofAll).toBeLessThan(1);
    expect(shares.flush.fromInside).toBeLessThan(0.3 * shares.hold.fromInside);
    expect(shares.flush.ofAll).toBeLessThan(shares.hold.ofAll);
  });
  it('put a reading taken after the hold was to end where it belongs', () => {
    const late: ClayHold = {
      ...check,
      minutes: 10,
      readings: [
        { afterMinutes: 25, netPpm: 150 },
        { afterMinutes: 10, netPpm: 120 },
      ],
    };
    const { acts } = holdHistory(CLAY_L, [late]);
    expect(acts.map((act) => act.atHours)).toEqual([10 / 60, 25 / 60, 25 / 60]);
    expect(() => holdHistory(0, [late])).toThrow(/clay in the pot/);
  });
});
