import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  concentrateSim,
  dipPen,
  doseSim,
  fillSim,
  flushSim,
  mixSim,
  normal,
  passDays,
  replaySimBatch,
  seededRandom,
  seedOf,
  simEc,
  simPh,
  type SimPotNature,
  type SimSolution,
} from './index.ts';

const solution = fc.record({
  idealEcUsCm: fc.double({ min: 0, max: 2000, noNaN: true }),
  alkalinityMeqL: fc.double({ min: -0.5, max: 4, noNaN: true }),
  carbonMmolL: fc.double({ min: 0.001, max: 5, noNaN: true }),
  phosphateMmolL: fc.double({ min: 0, max: 2, noNaN: true }),
});
const NATURE: SimPotNature = {
  reservoirMl: 250,
  poreMl: 70,
  evaporatedMlDay: 12,
  drunkMlDay: 10,
  uptakeShare: 0,
  alkalinityUeqDay: 0,
  clayEcUsLDay: 0,
  flushLeaves: 0.3,
};

describe('simulated solutions', () => {
  it('mix without loss, in either order', () => {
    fc.assert(
      fc.property(solution, solution, fc.double({ min: 0.1, max: 9, noNaN: true }), (a, b, v) => {
        const ab = mixSim(a, v, b, 2);
        const ba = mixSim(b, 2, a, v);
        for (const key of ['idealEcUsCm', 'alkalinityMeqL', 'carbonMmolL', 'phosphateMmolL'] as const) {
          expect(ab[key] * (v + 2)).toBeCloseTo(a[key] * v + b[key] * 2, 6);
          expect(ab[key]).toBeCloseTo(ba[key], 9);
        }
      }),
    );
  });
  it('rise in pH with added base, fall with acid, and always end between 2 and 12', () => {
    fc.assert(
      fc.property(solution, fc.double({ min: 0.01, max: 1, noNaN: true }), (s, meq) => {
        expect(simPh(doseSim(s, { alkalinityMeqL: meq }))).toBeGreaterThanOrEqual(simPh(s));
        expect(simPh(doseSim(s, { alkalinityMeqL: -meq }))).toBeLessThanOrEqual(simPh(s));
        expect(simPh(s)).toBeGreaterThanOrEqual(2);
        expect(simPh(s)).toBeLessThanOrEqual(12);
      }),
    );
  });
  it('conduct more when there is more in them', () => {
    fc.assert(
      fc.property(fc.double({ min: 1, max: 2000, noNaN: true }), (ec) => {
        expect(simEc({ idealEcUsCm: ec * 1.01, alkalinityMeqL: 0, carbonMmolL: 0, phosphateMmolL: 0 })).toBeGreaterThan(
          simEc({ idealEcUsCm: ec, alkalinityMeqL: 0, carbonMmolL: 0, phosphateMmolL: 0 }),
        );
      }),
    );
  });
});

describe('a simulated pot', () => {
  const feed: SimSolution = { idealEcUsCm: 200, alkalinityMeqL: 0.1, carbonMmolL: 0.1, phosphateMmolL: 0.2 };
  it('keeps its salts when only water leaves (no uptake)', () => {
    const start = { volumeMl: 250, reservoir: feed, pores: feed };
    const after = passDays(start, NATURE, 7, seededRandom(3));
    const salts = (p: typeof start) => p.volumeMl * p.reservoir.idealEcUsCm + NATURE.poreMl * p.pores.idealEcUsCm;
    expect(after.volumeMl).toBeLessThan(150);
    // Drunk water leaves its salts behind as evaporated water does; wicking only moves them about.
    expect(salts(after) / salts(start)).toBeCloseTo(1, 1);
    expect(after.reservoir.idealEcUsCm).toBeGreaterThan(feed.idealEcUsCm * 1.3);
  });
  it('half the water gone is twice the strength', () => expect(concentrateSim(feed, 2).idealEcUsCm).toBe(400));
  it('is washed by a flush towards the flush water, never past it', () => {
    const salty = { volumeMl: 50, reservoir: feed, pores: concentrateSim(feed, 4) };
    const flushed = flushSim(salty, NATURE, { ...feed, idealEcUsCm: 48 }, 750, seededRandom(1));
    expect(flushed.pores.idealEcUsCm).toBeGreaterThan(48);
    expect(flushed.pores.idealEcUsCm).toBeLessThan(120);
    expect(fillSim(flushed, NATURE, feed, 240).volumeMl).toBe(240);
  });
});

describe('a simulated pen', () => {
  const pen = { quantity: 'ppm' as const, resolution: 1, offset: 0, gain: 1, noise: 0.5, settleSeconds: 3, most: 9990 };
  it('settles from where it was to what is true, in whole digits', () => {
    const display = dipPen(pen, 104, 0, seededRandom(8));
    expect(display(0)).toMatchObject({ settled: false });
    expect(Number(display(0.2).shown)).toBeLessThan(60);
    const end = display(3);
    expect(end.settled).toBe(true);
    expect(Math.abs(Number(end.shown) - 104)).toBeLessThanOrEqual(2);
    expect(Number.isInteger(end.shown)).toBe(true);
    expect(display(3)).toEqual(display(4));
  });
  it('shows its over mark past its end', () => expect(dipPen(pen, 20_000, 0, seededRandom(8))(3).shown).toBe('over'));
});

describe('chance', () => {
  it('is the same for the same seed, and normal deviates are normal', () => {
    expect(Array.from({ length: 5 }, seededRandom(4))).toEqual(Array.from({ length: 5 }, seededRandom(4)));
    expect(seedOf('a')).not.toBe(seedOf('b'));
    const random = seededRandom(2);
    const draws = Array.from({ length: 20_000 }, () => normal(random));
    const mean = draws.reduce((s, d) => s + d, 0) / draws.length;
    expect(Math.abs(mean)).toBeLessThan(0.03);
    expect(draws.filter((d) => Math.abs(d) < 1.6449).length / draws.length).toBeCloseTo(0.9, 1);
  });
  it('replays a bucket to the same truth, and undoing an act replays without it', () => {
    const water: SimSolution = { idealEcUsCm: 18, alkalinityMeqL: 0.1, carbonMmolL: 0.1, phosphateMmolL: 0 };
    const product = { idealEcPerMlL: 300, alkalinityMeqPerMl: 0.1, phosphateMmolPerMl: 0.4 };
    const acts = [
      { id: 'one', kind: 'dose' as const, product, doseMl: 1 },
      { id: 'two', kind: 'thin' as const, pourOffL: 0.5, addL: 1 },
    ];
    expect(replaySimBatch('x', water, 2.6, acts)).toEqual(replaySimBatch('x', water, 2.6, acts));
    const one = replaySimBatch('x', water, 2.6, acts.slice(0, 1)).solution.idealEcUsCm;
    expect(one / (18 + 300 / 2.6)).toBeGreaterThan(0.85);
    expect(one / (18 + 300 / 2.6)).toBeLessThan(1.15);
  });
});
