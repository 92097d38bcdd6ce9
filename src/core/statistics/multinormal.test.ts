import { describe, expect, it } from 'vitest';
import { multinormal } from './multinormal.ts';
import { seededRandom } from './random.ts';

describe('a normal of several dimensions', () => {
  const mean = [1, -2];
  const covariance = [
    [4, 1.2],
    [1.2, 1],
  ];
  it('has the textbook density', () => {
    // (2π)⁻¹ |Σ|^−½ exp(−½ dᵀ Σ⁻¹ d), by hand: |Σ| = 2.56, d = (1, 1).
    const quadratic = (1 * 1 - 2 * 1.2 * 1 + 4 * 1) / 2.56;
    expect(multinormal(mean, covariance).log([2, -1])).toBeCloseTo(
      -Math.log(2 * Math.PI) - 0.5 * Math.log(2.56) - quadratic / 2,
      12,
    );
  });
  it('draws with its mean and covariance', () => {
    const { draw } = multinormal(mean, covariance);
    const random = seededRandom(4);
    const draws = Array.from({ length: 20_000 }, () => draw(random));
    const average = (of: (z: Float64Array) => number) => draws.reduce((sum, z) => sum + of(z), 0) / draws.length;
    expect(average((z) => z[0]!)).toBeCloseTo(1, 1);
    expect(average((z) => (z[0]! - 1) * (z[1]! + 2))).toBeCloseTo(1.2, 1);
    expect(average((z) => (z[1]! + 2) ** 2)).toBeCloseTo(1, 1);
  });
});
