import { describe, expect, it } from 'vitest';
import { unit } from 'mathjs';
import {
  dropsToMl,
  ecFromPpm,
  grossOf,
  ML_PER_UNIT,
  netOf,
  ppmFromEc,
  scaleFromStandard,
  toMl,
} from '../../src/core/quantity/index.ts';
import { blendReading, litresToThin, strengthFromTrial } from '../../src/core/strength/index.ts';
import { normalCdf } from '../../src/core/statistics/index.ts';

describe('volumes. Source: NIST Special Publication 811 (2008), Appendix B.8; second opinion: mathjs units', () => {
  it.each([
    ['usGallon', 3785.411784],
    ['usTeaspoon', 4.92892159375],
    ['usTablespoon', 14.78676478125],
    ['usFluidOunce', 29.5735295625],
  ] as const)('%s is %d mL', (name, mL) => expect(ML_PER_UNIT[name]).toBeCloseTo(mL, 10));
  it('imperial gallon is 4.54609 L. Source: UK Units of Measurement Regulations 1995', () =>
    expect(toMl(1, 'imperialGallon')).toBeCloseTo(4546.09, 9));
  it('agrees with mathjs, a general unit library, to the digits it carries', () => {
    for (const [ours, theirs] of [
      ['usGallon', 'gallon'],
      ['usFluidOunce', 'fluidounce'],
    ] as const) {
      const mL = unit(1, theirs).toNumber('mL');
      expect(Math.abs(toMl(1, ours) / mL - 1)).toBeLessThan(2e-3);
    }
  });
});

describe('meter scales. Source: KCl 0.01 mol/L conductivity standard, 1413 µS/cm at 25 °C (value from memory of the CRC Handbook)', () => {
  it.each([
    [0.5, 707],
    [0.64, 904],
    [0.7, 989],
  ])('a pen of scale %d shows %d ppm in it', (scale, shown) => expect(Math.round(ppmFromEc(1413, scale))).toBe(shown));
  it.each([
    [707, 0.5],
    [904, 0.64],
    [989, 0.7],
    [730, 0.5],
    [950, 0.7],
  ])('a pen that shows %d in the standard has the scale %d', (shown, scale) =>
    expect(scaleFromStandard(shown)).toMatchObject({ kind: 'found', scale }),
  );
  it.each([300, 800, 1413])('%d lies between the scales: no scale is made of it', (shown) =>
    expect(scaleFromStandard(shown).kind).toBe('between'),
  );
  it('two pens of different scale agree as EC', () =>
    expect(ecFromPpm(707, 0.5)).toBeCloseTo(ecFromPpm(989.8, 0.7), -1));
});

describe('the trade’s arithmetic. Common practice (no source)', () => {
  it('net is reading less base: 104 in water of 9 is 95 over base', () => {
    expect(netOf(104, 9)).toBe(95);
    expect(grossOf(90, 14)).toBe(104);
  });
  it('strength scales with dose: 30 drops gave 175 to 200 in half a US gallon of zero water, so 15 give about 93', () => {
    const halfGallonL = toMl(0.5, 'usGallon') / 1000;
    const thirtyMl = toMl(0.25, 'usTeaspoon');
    const strength = strengthFromTrial(thirtyMl, halfGallonL, 2 * 187.5);
    const fifteen = ppmFromEc((strength * (thirtyMl / 2)) / halfGallonL, 0.5);
    expect(fifteen).toBeGreaterThan(175 / 2 - 1);
    expect(fifteen).toBeLessThan(200 / 2 + 1);
    expect(Math.abs(fifteen - 93)).toBeLessThan(2);
    expect(fifteen).toBeGreaterThanOrEqual(75);
    expect(fifteen).toBeLessThanOrEqual(125);
  });
  it('a quarter teaspoon of 30 drops is about 24 drops to the mL', () => {
    const dropsPerMl = 30 / toMl(0.25, 'usTeaspoon');
    expect(dropsPerMl).toBeGreaterThan(24);
    expect(dropsPerMl).toBeLessThan(24.5);
    expect(dropsToMl(30, dropsPerMl)).toBeCloseTo(1.2322, 4);
  });
  it('readings of mixed waters add by volume share: tap of 212 in three parts still water of 9', () =>
    expect(
      blendReading([
        { volumeL: 1, reading: 212 },
        { volumeL: 3, reading: 9 },
      ]),
    ).toBeCloseTo(59.75, 9));
  it('thinning 4.2 L from 100 to 69 over base takes 1.9 L', () =>
    expect(litresToThin(4.2, 100, 69)).toBeCloseTo(1.887, 3));
  it('half the volume gone is twice the strength; topping up restores it', () =>
    expect(
      blendReading([
        { volumeL: 0.5, reading: 200 },
        { volumeL: 0.5, reading: 0 },
      ]),
    ).toBe(100));
});

describe('the standard normal. Source: Abramowitz and Stegun (1964), Table 26.1', () => {
  it.each([
    [0.5, 0.6914624613],
    [1.0, 0.8413447461],
    [1.5, 0.9331927987],
    [2.0, 0.9772498681],
    [3.0, 0.998650102],
  ])('P(%d) = %d', (z, p) => expect(normalCdf(z)).toBeCloseTo(p, 6));
});
