import fc from 'fast-check';
import { add, inv, matrix, multiply, subtract, transpose, type Matrix } from 'mathjs';
import { describe, expect, it } from 'vitest';
import {
  cutOffNormal,
  identity,
  normalBetween,
  normalCdf,
  observe,
  propagate,
  sdOf,
  type Gaussian,
} from './gaussian.ts';

const small = fc.double({ min: -3, max: 3, noNaN: true });
/** A positive definite 3×3 covariance as A·Aᵀ + I/10. */
const state = fc.array(small, { minLength: 12, maxLength: 12 }).map((v): Gaussian => {
  const a = [v.slice(0, 3), v.slice(3, 6), v.slice(6, 9)];
  const covariance = a.map((row, i) =>
    a.map((other, j) => row.reduce((sum, x, k) => sum + x * other[k]!, 0) + (i === j ? 0.1 : 0)),
  );
  return { mean: v.slice(9, 12), covariance };
});
const rows = (m: Matrix) => m.toArray() as number[][];

describe('a joint normal belief', () => {
  it('is conditioned as the textbook matrices say (oracle: mathjs)', () => {
    fc.assert(
      fc.property(state, fc.array(small, { minLength: 3, maxLength: 3 }), small, (s, h, y) => {
        const variance = 0.5;
        const p = matrix(s.covariance.map((r) => [...r]));
        const hm = matrix([h]);
        const sInv = inv(add(multiply(multiply(hm, p), transpose(hm)), matrix([[variance]])));
        const gain = multiply(multiply(p, transpose(hm)), sInv);
        const expected = rows(subtract(p, multiply(multiply(gain, hm), p)));
        const got = observe(s, h, y, variance);
        got.state.covariance.forEach((row, i) => row.forEach((v, j) => expect(v).toBeCloseTo(expected[i]![j]!, 6)));
        const mean = rows(multiply(gain, matrix([[got.innovation]])));
        got.state.mean.forEach((m, i) => expect(m).toBeCloseTo(s.mean[i]! + mean[i]![0]!, 6));
      }),
    );
  });
  it('moves forward as F·P·Fᵀ + Q (oracle: mathjs)', () => {
    fc.assert(
      fc.property(state, fc.array(small, { minLength: 9, maxLength: 9 }), (s, v) => {
        const f = [v.slice(0, 3), v.slice(3, 6), v.slice(6, 9)];
        const expected = rows(
          multiply(multiply(matrix(f), matrix(s.covariance.map((r) => [...r]))), transpose(matrix(f))),
        );
        propagate(s, f, [1, 2, 3]).covariance.forEach((row, i) =>
          row.forEach((got, j) => expect(got).toBeCloseTo(expected[i]![j]! + (i === j ? i + 1 : 0), 6)),
        );
      }),
    );
  });
  it('never grows less certain by a measurement', () => {
    fc.assert(
      fc.property(state, small, (s, y) => {
        expect(sdOf(observe(s, [1, 0, 0], y, 0.3).state, [1, 0, 0])).toBeLessThanOrEqual(sdOf(s, [1, 0, 0]) + 1e-9);
      }),
    );
  });
  it('an identity step changes nothing', () => {
    const s: Gaussian = {
      mean: [1, 2],
      covariance: [
        [2, 0.5],
        [0.5, 1],
      ],
    };
    expect(propagate(s, identity(2), [0, 0])).toEqual(s);
  });
});

describe('normal probabilities', () => {
  it.each([
    [0, 0.5],
    [1, 0.841345],
    [1.96, 0.975002],
    [-2.326348, 0.01],
  ])('Φ(%d) = %d', (z, p) => expect(normalCdf(z)).toBeCloseTo(p, 5));
  it('a point either is or is not inside', () => {
    expect(normalBetween(1, 2, 1.5, 0)).toBe(1);
    expect(normalBetween(1, 2, 3, 0)).toBe(0);
  });
});

describe('a normal cut off', () => {
  it('is the half normal at its middle, and the whole one far from its bounds', () => {
    const half = cutOffNormal(0, 2, 0, 1e3);
    expect(half.mean).toBeCloseTo(2 * Math.sqrt(2 / Math.PI), 6);
    expect(half.sd).toBeCloseTo(2 * Math.sqrt(1 - 2 / Math.PI), 5);
    expect(cutOffNormal(3, 0.1, 0, 6)).toEqual({ mean: expect.closeTo(3, 9), sd: expect.closeTo(0.1, 6) });
  });
  it('lies between its bounds, and narrower than it was, wherever they are', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -4, max: 4, noNaN: true }),
        fc.double({ min: 0.05, max: 3, noNaN: true }),
        fc.double({ min: 0.05, max: 3, noNaN: true }),
        (mean, sd, width) => {
          const cut = cutOffNormal(mean, sd, -width, width);
          expect(cut.mean).toBeGreaterThanOrEqual(-width - 1e-3);
          expect(cut.mean).toBeLessThanOrEqual(width + 1e-3);
          expect(cut.sd).toBeLessThanOrEqual(sd + 1e-6);
        },
      ),
    );
  });
});
