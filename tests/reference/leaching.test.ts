import { describe, expect, it } from 'vitest';
import { afterHours, firstWater, type ClayParameters } from '../../src/core/clay/index.ts';
import { onGrid, sphereSeries } from '../../src/core/clay/spectrum.ts';
import { drawWorldBag, firstBath, seededRandom, standHours } from '../../src/core/simulation/index.ts';

/**
 * Share of what a sphere gives to a stirred bath of limited volume: J. Crank, The Mathematics of Diffusion, 2nd ed. (1975), §6.3.3, eq. 6.30:
 * 1 − Σ 6α(α+1) exp(−q²T) / (9 + 9α + q²α²), tan q = 3q / (3 + αq²), T = Dt/a². @param alpha the bath over what the sphere holds
 */
function crank(alpha: number, T: number): number {
  let sum = 0;
  for (let n = 1; n < 60; n++) {
    const f = (q: number) => Math.sin(q) * (3 + alpha * q * q) - 3 * q * Math.cos(q);
    let [low, high] = [n * Math.PI, (n + 0.5) * Math.PI];
    for (let i = 0; i < 60; i++) {
      const middle = (low + high) / 2;
      if (Math.sign(f(middle)) === Math.sign(f(low))) low = middle;
      else high = middle;
    }
    const q = (low + high) / 2;
    sum += (6 * alpha * (alpha + 1) * Math.exp(-q * q * T)) / (9 + 9 * alpha + q * q * alpha * alpha);
  }
  return 1 - sum;
}

describe('leaching against Crank’s series for spheres in a limited bath', () => {
  // A skin that hinders nothing; the slowest rate of a bare sphere is π² D/a².
  const sphere = (capacity: number): ClayParameters => ({
    capacities: onGrid(sphereSeries(0.05, 1e4)).map((w) => w * capacity),
    porePpm: 500,
    dust: 0,
    dustHours: 1,
    source: 0,
    sourceHours: 100,
    retained: 0.3,
  });
  it.each([0.1, 0.3, 0.6])('a litre of clay that holds as much as %s L of water', (capacity) => {
    const alpha = 1 / capacity;
    const end = (500 * capacity) / (1 + capacity);
    for (const hours of [2, 6, 12, 24, 48, 96]) {
      const share = afterHours(sphere(capacity), 1, firstWater(sphere(capacity), 1, 1), hours).ppm / end;
      // Ten terms of the series on fourteen rates: four hundredths at the worst, in the first hours.
      expect(Math.abs(share - crank(alpha, (0.05 * hours) / Math.PI ** 2))).toBeLessThan(0.04);
    }
  });
  it('the simulated world of grains is such spheres, where they are of one size and without a skin', () => {
    const bag = drawWorldBag('grains', seededRandom(1));
    const bath = firstBath({ ...bag, dust: 0 }, 1);
    const later = standHours({ ...bag, dust: 0 }, bath, 24 * 365);
    const held = bag.bodies.reduce((sum, b) => sum + b.capacityL, 0);
    const salt = bag.bodies.reduce((sum, b) => sum + b.capacityL * b.ppm, 0);
    expect(later.ppm / (salt / (1 + held))).toBeGreaterThan(0.97);
    expect(later.ppm / (salt / (1 + held))).toBeLessThan(1.0001);
  });
});
