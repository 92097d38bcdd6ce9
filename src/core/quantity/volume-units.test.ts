import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { doseWords, parseVolume, volumeWords } from './index.ts';

describe('a volume as it is written', () => {
  it.each([
    ['250', 250],
    ['250 ml', 250],
    ['0,25 L', 250],
    ['1.5l', 1500],
    ['25 cl', 250],
    ['½ L', 500],
    ['1 ½ l', 1500],
    ['2 litres', 2000],
  ])('%s is %d mL', (text, ml) => expect(parseVolume(text, 'mL', 'metric')).toEqual({ kind: 'volume', ml }));
  it.each([
    ['8 oz', 'us', 236.588],
    ['8 fl oz', 'imperial', 227.305],
    ['1 gal', 'us', 3785.412],
    ['1 gal', 'imperial', 4546.09],
    ['1 pint', 'imperial', 568.261],
    ['1 pt', 'us', 473.176],
    ['1 qt', 'us', 946.353],
    ['¼ tsp', 'us', 1.232],
    ['1 cup', 'us', 236.588],
  ] as const)('%s (%s) is %d mL', (text, units, ml) => {
    const read = parseVolume(text, 'usFluidOunce', units);
    expect(read.kind === 'volume' && read.ml).toBeCloseTo(ml, 2);
  });
  it('nothing is nothing, and what is no volume is said to be none', () => {
    expect(parseVolume('  ', 'mL', 'metric')).toEqual({ kind: 'empty' });
    for (const text of ['lots', '-3', '5 bananas', '1.2.3', 'ml', '1e9x'])
      expect(parseVolume(text, 'mL', 'metric').kind).toBe('unclear');
  });
  it('never throws and never reads a negative, whatever is typed', () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        const read = parseVolume(text, 'mL', 'us');
        if (read.kind === 'volume') expect(read.ml).toBeGreaterThanOrEqual(0);
      }),
    );
  });
});

describe('a volume in words', () => {
  it.each([
    [250, 'metric', '250\u00a0mL'],
    [2600, 'metric', '2.6\u00a0L'],
    [250, 'us', '8.5\u00a0fl oz'],
    [2600, 'us', '0.69\u00a0gal'],
    [2600, 'imperial', '0.57\u00a0gal'],
    [0.5, 'us', '0.5\u00a0mL'],
  ] as const)('%d mL, %s: %s', (ml, units, words) => expect(volumeWords(ml, units)).toBe(words));
  it('a dose stays in mL', () => expect(doseWords(0.55)).toBe('0.55\u00a0mL'));
  it('what was written in words is read again to within its last digit', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 20, max: 50_000, noNaN: true }),
        fc.constantFrom('metric' as const, 'us' as const, 'imperial' as const),
        (ml, units) => {
          const read = parseVolume(volumeWords(ml, units).replace('\u00a0', ' '), 'mL', units);
          expect(read.kind === 'volume' && Math.abs(read.ml / ml - 1)).toBeLessThan(0.06);
        },
      ),
    );
  });
});
