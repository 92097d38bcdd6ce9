import fc from 'fast-check';
import * as mathjs from 'mathjs';
import { describe, expect, it } from 'vitest';
import {
  addComposition,
  anchoredAt,
  composition,
  OPEN,
  scaleComposition,
  solve,
  type Composition,
} from '../solution/index.ts';
import { seededRandom, spreadOf } from '../statistics/index.ts';
import {
  alkaliAt,
  asMade,
  atRest,
  blendCurves,
  CARBON_HALF_DAYS,
  clayOf,
  courseOf,
  curveOf,
  drawForecast,
  earlyWider,
  filledWith,
  learnInterval,
  liveInterval,
  natureOf,
  playPot,
  POTS_AT_LARGE,
  potPath,
  quantityOf,
  restCarbon,
  standAt,
  type Interval,
  type PotBelief,
  type PotNature,
  type PotSelf,
  type PotWater,
} from './index.ts';

/** Runge and Kutta's 4/5 pair of mathjs; its types do not name it yet. */
const { solveODE } = mathjs as unknown as {
  solveODE: (
    change: (t: number, y: number[]) => number[],
    span: number[],
    start: number[],
    options: { tol: number },
  ) => { y: number[][] };
};
const SOFT = composition({ Ca: 0.25, Mg: 0.12, K: 1.2, NO3: 1.35, NH4: 0.15, PO4: 0.2, CO2: 0.2, SO4: 0.1 });
const HARD = composition({
  Ca: 1.6,
  Mg: 0.4,
  K: 1,
  Na: 0.5,
  NO3: 1.4,
  NH4: 0.1,
  PO4: 0.25,
  CO2: 3.2,
  Cl: 0.9,
  SO4: 0.5,
});
const RAIN = composition({ Ca: 0.1, Na: 0.1, Cl: 0.1, NO3: 0.05, SO4: 0.02, CO2: 0.15 });
const SILICATE = composition({ K: 0.9, SiO2: 0.8, CO2: 0.1, NO3: 0.5, Ca: 0.1 });
const withAlkali = (c: Composition, meqL: number) =>
  addComposition(c, composition(meqL > 0 ? { K: meqL } : { Cl: -meqL }));
/** A pot that takes and gives nothing but what is said. */
const STILL: Partial<PotNature> = {
  uptake: 0,
  clay: 0,
  atOnce: 0,
  roots: 0,
  nitrogen: 0,
  gives: 0,
  strengthOff: 0,
  phOff: 0,
  co2: 1,
};
const self = (water: PotWater, uses: number, nature: Partial<PotNature> = {}, season = 1): PotSelf => {
  const middle = natureOf(POTS_AT_LARGE, water, season);
  return { ...middle, nature: { ...middle.nature, ...nature }, uses };
};

describe('the reduced chemistry of a pot', () => {
  it.each([
    ['a soft feed', SOFT],
    ['a feed in hard tap', HARD],
    ['rain', RAIN],
    ['a silicate soak', SILICATE],
  ])('stands within 0.02 pH of the full chemistry as it thickens, gains alkali and breathes: %s', (_, total) => {
    const curve = curveOf(total);
    fc.assert(
      fc.property(
        fc.double({ min: 0.8, max: 2.5, noNaN: true }),
        fc.double({ min: 4.6, max: 8, noNaN: true }),
        fc.double({ min: 1, max: 3, noNaN: true }),
        (strength, ph, over) => {
          const carbon = Math.min(5, restCarbon(curve, ph) * over);
          const full = solve(
            withAlkali({ ...scaleComposition(total, strength), CO2: carbon }, alkaliAt(curve, strength, carbon, ph)),
          );
          if (full.ok) expect(Math.abs(full.ph - ph)).toBeLessThan(0.02);
        },
      ),
      { numRuns: 40 },
    );
  });
  it('where it was made it stands as the full chemistry says, closed and at rest with the air', () => {
    for (const total of [SOFT, HARD, RAIN, SILICATE]) {
      const [curve, closed, open] = [curveOf(total), solve(total), solve(total, OPEN)];
      if (!closed.ok || !open.ok) throw new Error('outside the model');
      expect(standAt(curve, asMade(curve))).toBeCloseTo(closed.ph, 2);
      expect(atRest(curve, 1, 0).ph).toBeCloseTo(open.ph, 1);
      expect(curve.ecUsCm).toBeCloseTo(closed.ecUsCm, 9);
    }
  });
  it('alkali and pH are each other’s inverse, and a blend of one solution is that solution', () => {
    const curve = curveOf(SOFT);
    const blend = blendCurves([
      { volume: 250, of: curve },
      { volume: 60, of: curve },
    ]);
    fc.assert(
      fc.property(
        fc.double({ min: 0.5, max: 3, noNaN: true }),
        fc.double({ min: 4.5, max: 8.5, noNaN: true }),
        fc.double({ min: 0.02, max: 2, noNaN: true }),
        (strength, ph, carbonMmolL) => {
          const standing = { strength, carbonMmolL, alkaliMeqL: alkaliAt(curve, strength, carbonMmolL, ph) };
          expect(standAt(curve, standing)).toBeCloseTo(ph, 2);
          expect(standAt(blend, standing)).toBeCloseTo(standAt(curve, standing), 6);
        },
      ),
    );
  });
  it('blending conserves alkali, carbon and salts, and lies where the full chemistry puts it', () => {
    const [feed, rain] = [curveOf(SOFT), curveOf(RAIN)];
    const blend = blendCurves([
      { volume: 250, of: feed },
      { volume: 60, of: rain },
    ]);
    const full = solve(addComposition(scaleComposition(SOFT, 250 / 310), RAIN, 60 / 310));
    expect(blend.carbonMmolL).toBeCloseTo((250 * 0.2 + 60 * 0.15) / 310, 12);
    expect(blend.ecUsCm).toBeCloseTo((250 * feed.ecUsCm + 60 * rain.ecUsCm) / 310, 9);
    expect(full.ok && Math.abs(standAt(blend, asMade(blend)) - full.ph)).toBeLessThan(0.05);
    expect(() => blendCurves([])).toThrow(/no volume/);
    expect(() => curveOf(scaleComposition(SOFT, 5000))).toThrow(/Too strong/);
  });
});

describe('a pot between two visits', () => {
  it('half the water gone with nothing taken up is twice the strength, where nothing holds water but the reservoir (closed form)', () => {
    const water = filledWith(curveOf(SOFT), 250, 1);
    const path = potPath(water, { ...self(water, 0.05, STILL), evenly: true }, 10);
    expect(path[10]!.freeMl).toBeCloseTo(125, 9);
    expect(Math.abs(path[10]!.ecUsCm / path[0]!.ecUsCm / 2 - 1)).toBeLessThan(0.04);
    expect(path.map((d) => d.freeMl)).toEqual([...path.map((d) => d.freeMl)].sort((a, b) => b - a));
  });
  it('water taken as it comes leaves the strength alone, and an empty pot is no emptier', () => {
    const water = filledWith(curveOf(SOFT), 250, 60);
    const path = potPath(water, self(water, 0.24, { ...STILL, uptake: 1, vapour: 0, before: 0 }), 9);
    for (const day of path) expect(Math.abs(day.ecUsCm / path[0]!.ecUsCm - 1)).toBeLessThan(0.06);
    expect(path[9]!.freeMl).toBeGreaterThanOrEqual(0.05 * 250 - 1e-9);
    expect(path[9]!.freeMl).toBeLessThan(0.1 * 250);
  });
  it('more alkali of the clay is a higher pH on every day, ammonium a lower one', () => {
    const water = filledWith(curveOf(anchoredAt(SOFT, 5.8)!), 250, 60);
    const ph = (nature: Partial<PotNature>) =>
      potPath(water, self(water, 0.08, { ...STILL, ...nature }), 7).map((d) => d.ph);
    const [sour, none, some, more] = [ph({ nitrogen: 0.3, acid: 1.5 }), ph({}), ph({ clay: 0.03 }), ph({ clay: 0.1 })];
    // What the clay gives on the first day is in its pores, and reaches the reservoir on the next.
    for (let day = 2; day <= 7; day++) {
      expect(sour[day]!).toBeLessThan(none[day]!);
      expect(some[day]!).toBeGreaterThan(none[day]!);
      expect(more[day]!).toBeGreaterThan(some[day]!);
    }
  });
  it('microbes can sour it by no more than the ammonium there was', () => {
    const water = filledWith(curveOf(anchoredAt(SOFT, 5.8)!), 250, 60);
    const acidBy = (nitrogen: number, days: number) => {
      const course = courseOf(days);
      playPot(water, self(water, 0, { ...STILL, nitrogen, acid: 2 }), course);
      return -course.gaveUeq;
    };
    const { pores, grains } = natureOf(POTS_AT_LARGE, water, 1).nature;
    const held = 0.15 * 2 * 250 * (1 + (pores + grains) * (60 / 250));
    expect(acidBy(5, 30)).toBeLessThan(held * 1.05);
    expect(acidBy(5, 30)).toBeGreaterThan(0.85 * held);
    expect(acidBy(0.1, 7)).toBeLessThan(acidBy(0.1, 14));
  });
  it('follows the differential equations of water, salts, alkali and CO2 (oracle: mathjs solveODE)', () => {
    const curve = curveOf(anchoredAt(SOFT, 5.8)!);
    const water = filledWith(curve, 250, 60);
    const of = self(water, 0.08, { ...STILL, clay: 0.03, order: 0, vapour: 1, before: 0 });
    const { pores, grains, mixing, seeping } = of.nature;
    const [vp, vg] = [(pores * 60) / 250, (grains * 60) / 250];
    const rate = Math.LN2 / CARBON_HALF_DAYS;
    const sid = curve.strongIonsMeqL;
    // State: salts of reservoir, pores and grains, strong ions of each (amounts, in fills), carbon of the reservoir.
    const change = (t: number, y: number[]) => {
      const vr = 1 - 0.08 * t;
      const [r, p, g, ar, ap, ag, c] = [y[0]! / vr, y[1]! / vp, y[2]! / vg, y[3]! / vr, y[4]! / vp, y[5]! / vg, y[6]!];
      const across = 0.3 * mixing;
      const into = (seeping * vp * vg) / (vp + vg);
      const strengthP = p / curve.ecUsCm;
      const phP = atRest(curve, strengthP, ap - strengthP * sid).ph;
      const clay = 0.03 * (1 - 10 ** Math.min(0.3, phP - 8.7));
      const [toP, toG] = [(clay * vp) / (vp + vg), (clay * vg) / (vp + vg)];
      const strength = r / curve.ecUsCm;
      const rest = atRest(curve, strength, ar - strength * sid).standing.carbonMmolL;
      return [
        -0.08 * r + across * (p - r),
        0.08 * r - across * (p - r) + into * (g - p) + 95 * toP,
        -into * (g - p) + 95 * toG,
        -0.08 * ar + across * (ap - ar),
        0.08 * ar - across * (ap - ar) + into * (ag - ap) + toP,
        -into * (ag - ap) + toG,
        -rate * (c - rest),
      ];
    };
    const b = of.bodies;
    const start = [b[0]!, b[3]! * vp, b[6]! * vg, b[1]!, b[4]! * vp, b[7]! * vg, curve.carbonMmolL];
    const { y } = solveODE(change, [0, 7], start, { tol: 1e-4 });
    const end = y.at(-1)!;
    const vr = 1 - 0.08 * 7;
    const strength = end[0]! / vr / curve.ecUsCm;
    const ph = standAt(curve, { strength, alkaliMeqL: end[3]! / vr - strength * sid, carbonMmolL: end[6]! });
    const path = potPath(water, { ...of, evenly: true }, 7).at(-1)!;
    expect(Math.abs(path.ecUsCm / (end[0]! / vr) - 1)).toBeLessThan(0.05);
    expect(Math.abs(path.ph - ph)).toBeLessThan(0.12);
  });
});

describe('what the log teaches of a pot', () => {
  const water = filledWith(curveOf(anchoredAt(SOFT, 5.8)!), 250, 60);
  const MADE = self(water, 0.09, { clay: 0.06, uptake: 0.6 });
  const interval = (of: PotSelf, more: Partial<Interval> = {}): Interval => {
    const out = potPath(water, of, 7).at(-1)!;
    return { water, days: 7, season: 1, leftMl: out.freeMl, cameOutEcUsCm: out.ecUsCm, cameOutPh: out.ph, ...more };
  };
  const learn = (of: PotSelf, rounds: number, start: PotBelief = POTS_AT_LARGE) =>
    Array.from({ length: rounds }).reduce<PotBelief>((belief) => learnInterval(belief, interval(of)), start);

  it('comes to foretell the pot it was played with, whatever that is', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.04, max: 0.12, noNaN: true }),
        fc.double({ min: 0.3, max: 1.2, noNaN: true }),
        fc.double({ min: 0.005, max: 0.15, noNaN: true }),
        (uses, uptake, clay) => {
          const of = self(water, uses, { uptake, clay });
          const then = potPath(water, of, 7).at(-1)!;
          const { foretold } = liveInterval(learn(of, 10), interval(of));
          expect(Math.abs(foretold.left.middle - then.freeMl / 250)).toBeLessThan(0.07);
          expect(Math.abs(foretold.ec.middle - Math.log(then.ecUsCm))).toBeLessThan(0.12);
          expect(Math.abs(foretold.ph.middle - then.ph)).toBeLessThan(0.25);
        },
      ),
      { numRuns: 12 },
    );
  });
  it('what was not read teaches nothing; a pot without history stands where pots at large stand', () => {
    const unread = interval(MADE, { leftMl: undefined, cameOutEcUsCm: undefined, cameOutPh: undefined });
    const { seen, voices } = learnInterval(POTS_AT_LARGE, unread);
    expect(seen).toEqual(POTS_AT_LARGE.seen);
    expect(voices).toBe(POTS_AT_LARGE.voices);
    expect(learnInterval(POTS_AT_LARGE, { ...interval(MADE), days: 0 })).toBe(POTS_AT_LARGE);
    expect(learnInterval(POTS_AT_LARGE, { ...unread, leftMl: 90 }).seen).toEqual({ drinks: 1, salts: 0, alkali: 0 });
  });
  it('a pot found dry says only that it was, not how fast it drank', () => {
    const [before, after] = [
      POTS_AT_LARGE,
      learnInterval(POTS_AT_LARGE, interval(MADE, { leftMl: 5, cameOutEcUsCm: undefined, cameOutPh: undefined })),
    ].map((belief) => spreadOf(quantityOf(belief.crowd, 'loses')));
    expect(after!.mean).toBeCloseTo(before!.mean, 2);
    expect(after!.sd).toBeCloseTo(before!.sd, 2);
  });
  it('one wild reading does not turn a pot over', () => {
    const known = learn(MADE, 8);
    const ph = (belief: PotBelief) => liveInterval(belief, interval(MADE)).foretold.ph.middle;
    const after = learnInterval(known, interval(MADE, { cameOutPh: 9 }));
    expect(Math.abs(ph(after) - ph(known))).toBeLessThan(0.6);
  });
  it('a colour against a card teaches less than a pen', () => {
    const sd = (phSd: number) =>
      clayOf(learnInterval(POTS_AT_LARGE, interval(MADE, { cameOutPh: 7.4, phSd }))).covariance[0]![0]!;
    expect(sd(0.3)).toBeGreaterThan(sd(0.06));
  });
  it('says the same twice', () => {
    expect(learn(MADE, 3).crowd.at).toEqual(learn(MADE, 3).crowd.at);
  });
});

describe('forecasts', () => {
  const water = filledWith(curveOf(anchoredAt(SOFT, 5.8)!), 250, 60);
  const draw = (belief: PotBelief, seed = 1, read = true) =>
    drawForecast(water, belief, 1, 14, 128, seededRandom(seed), { read });
  const round = (belief: PotBelief): PotBelief => {
    const out = potPath(water, self(water, 0.09, { clay: 0.06 }), 7).at(-1)!;
    return learnInterval(belief, {
      water,
      days: 7,
      season: 1,
      leftMl: out.freeMl,
      cameOutEcUsCm: out.ecUsCm,
      cameOutPh: out.ph,
    });
  };
  it('are the same for the same seed, in order, and begin where the pot was filled', () => {
    expect(draw(POTS_AT_LARGE)).toEqual(draw(POTS_AT_LARGE));
    for (const { freeMl, ecUsCm, ph } of draw(POTS_AT_LARGE))
      for (const band of [freeMl, ecUsCm, ph]) {
        expect(band.low).toBeLessThanOrEqual(band.middle);
        expect(band.middle).toBeLessThanOrEqual(band.high);
      }
    expect(draw(POTS_AT_LARGE)[0]!.freeMl).toEqual({ low: 250, middle: 250, high: 250 });
  });
  it('narrow with every round that was read; what will be read is less sure than how it stands', () => {
    const width = (belief: PotBelief, read = true) => {
      const { high, low } = drawForecast(water, belief, 1, 7, 2000, seededRandom(3), { read }).at(-1)!.ph;
      return high - low;
    };
    const two = round(round(POTS_AT_LARGE));
    const six = Array.from({ length: 6 }).reduce<PotBelief>(round, POTS_AT_LARGE);
    expect(width(two)).toBeLessThan(0.7 * width(POTS_AT_LARGE));
    expect(width(six)).toBeLessThan(width(two));
    // While there is enough left to read.
    expect(width(six, false)).toBeLessThan(width(six));
  });
  it('are widened below and above as earlier ones ask for, and never past an empty or a full pot', () => {
    const widths = {
      left: { below: 6, above: 6 },
      ec: { below: 2, above: 1 },
      ph: { below: 1, above: 3 },
    };
    const [plain, wide] = [undefined, widths].map((of) =>
      drawForecast(water, POTS_AT_LARGE, 1, 7, 128, seededRandom(1), of ? { widths: of } : {}).at(-1)!,
    );
    expect(wide!.freeMl.low).toBeGreaterThanOrEqual(0);
    expect(wide!.freeMl.high).toBeLessThanOrEqual(250);
    expect(Math.log(wide!.ecUsCm.middle / wide!.ecUsCm.low)).toBeCloseTo(
      2 * Math.log(plain!.ecUsCm.middle / plain!.ecUsCm.low),
      9,
    );
    expect(wide!.ecUsCm.high).toBeCloseTo(plain!.ecUsCm.high, 9);
    expect(wide!.ph.high - wide!.ph.middle).toBeCloseTo(3 * (plain!.ph.high - plain!.ph.middle), 9);
  });
  it('of strength are told wider soon after a flush, where hardly anyone reads: by less each day, and as learned from the seventh on', () => {
    expect(earlyWider(0)).toBeGreaterThan(1.2);
    for (let day = 1; day <= 7; day++) expect(earlyWider(day)).toBeLessThan(earlyWider(day - 1));
    expect(earlyWider(7)).toBe(1);
    expect(earlyWider(30)).toBe(1);
  });
});
