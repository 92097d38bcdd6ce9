import { describe, expect, it } from 'vitest';
import { deficitKpa, saturationKpa, sunMj } from '../../src/core/reservoir/index.ts';

describe('air and sun. Source: FAO Irrigation and Drainage Paper 56 (Allen et al. 1998), its own worked examples and annex tables', () => {
  it.each([
    [24.5, 3.075],
    [15, 1.705],
    [1, 0.657],
    [30, 4.243],
  ])('saturation vapour pressure at %d °C is %d kPa (example 3, annex 2 table 2.3)', (t, kpa) =>
    expect(Math.abs(saturationKpa(t) - kpa)).toBeLessThan(0.003),
  );
  it('the deficit is what is missing to it', () => expect(deficitKpa(24.5, 60)).toBeCloseTo(0.4 * 3.075, 2));
  it('extraterrestrial radiation at 20° S on 3 September is 32.2 MJ/m² (example 8)', () =>
    expect(sunMj(-20, 246)).toBeCloseTo(32.2, 1));
  it.each([
    [50, 15, 8.9],
    [50, 166, 41.6],
    [0, 74, 37.8],
  ])('at %d° on day %d about %d MJ/m² (annex 2 table 2.6, within 2 %%; value from memory)', (latitude, day, mj) =>
    expect(Math.abs(sunMj(latitude, day) / mj - 1)).toBeLessThan(0.05),
  );
});
