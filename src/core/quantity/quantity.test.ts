import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  countWords,
  someOf,
  DomainError,
  dropsToMl,
  ecFromPpm,
  fromMl,
  grossOf,
  METER_SCALES,
  ML_PER_UNIT,
  netOf,
  NOT_MEASURED,
  parseReading,
  ppmFromEc,
  readingMiddle,
  toMl,
  volumeWords,
  type VolumeUnit,
} from './index.ts';

const amount = fc.double({ min: 0, max: 1e5, noNaN: true });

describe('volumes', () => {
  it('come back the same through any unit', () => {
    fc.assert(
      fc.property(amount, fc.constantFrom(...(Object.keys(ML_PER_UNIT) as VolumeUnit[])), (v, unit) => {
        expect(fromMl(toMl(v, unit), unit)).toBeCloseTo(v, 6);
      }),
    );
  });
  it('refuse a negative amount and a dropper without a size', () => {
    expect(() => toMl(-1, 'mL')).toThrow(DomainError);
    expect(() => toMl(Number.NaN, 'mL')).toThrow(DomainError);
    expect(() => dropsToMl(3, 0)).toThrow(/drops per mL/);
  });
});

describe('meter scales', () => {
  it('turn EC to ppm and back on every scale', () => {
    fc.assert(
      fc.property(amount, fc.constantFrom(...METER_SCALES), (ec, scale) => {
        expect(ecFromPpm(ppmFromEc(ec, scale), scale)).toBeCloseTo(ec, 6);
      }),
    );
  });
  it('refuse a scale that is not positive', () => {
    expect(() => ppmFromEc(100, 0)).toThrow(DomainError);
    expect(() => ecFromPpm(100, Number.NaN)).toThrow(DomainError);
  });
});

describe('net and gross', () => {
  it('are inverse, and a reading under the base is refused with a remedy', () => {
    fc.assert(
      fc.property(amount, amount, (base, net) => {
        expect(netOf(grossOf(net, base), base)).toBeCloseTo(net, 6);
      }),
    );
    try {
      netOf(8, 9);
      expect.unreachable();
    } catch (error) {
      expect(error).toMatchObject({ code: 'below-base', value: 8 });
      expect((error as DomainError).remedy).toMatch(/Rinse the pen/);
    }
  });
});

describe('typed readings', () => {
  it('are read as a grower means them', () => {
    expect(parseReading('', 'ppm')).toEqual({ ok: true, reading: NOT_MEASURED });
    expect(parseReading(' 104 ', 'ppm')).toEqual({ ok: true, reading: { kind: 'value', value: 104 } });
    expect(parseReading('5,6', 'pH')).toEqual({ ok: true, reading: { kind: 'value', value: 5.6 } });
    expect(parseReading('1,413', 'ppm')).toEqual({ ok: true, reading: { kind: 'value', value: 1413 } });
    expect(parseReading('over', 'ppm')).toEqual({ ok: true, reading: { kind: 'overRange' } });
    expect(parseReading('6.5-6.0', 'pH')).toEqual({ ok: true, reading: { kind: 'range', low: 6, high: 6.5 } });
  });
  it.each([
    ['40,000', 'ppm', /digit too many/],
    ['40000', 'ppm', /9,990/],
    ['-5', 'ppm', /never reads below 0/],
    ['19', 'pH', /0 to 14/],
    ['-1', 'pH', /0 to 14/],
    ['wet', 'pH', /such as 5.8/],
    ['abc', 'ppm', /such as 104/],
    ['over', 'pH', /such as 5.8/],
    ['6 to 19', 'pH', /0 to 14/],
  ] as const)('"%s" as %s is answered with a remedy', (text, quantity, message) => {
    const parsed = parseReading(text, quantity);
    expect(parsed.ok).toBe(false);
    if (!parsed.ok) expect(parsed.message).toMatch(message);
  });
  it('never become a number outside the instrument', () => {
    fc.assert(
      fc.property(fc.string(), fc.constantFrom('ppm' as const, 'pH' as const), (text, quantity) => {
        const parsed = parseReading(text, quantity);
        const middle = parsed.ok ? readingMiddle(parsed.reading) : undefined;
        expect(middle === undefined || (middle >= 0 && middle <= (quantity === 'pH' ? 14 : 9990))).toBe(true);
      }),
    );
  });
  it('over range and not measured have no middle', () => {
    expect(readingMiddle({ kind: 'overRange' })).toBeUndefined();
    expect(readingMiddle(NOT_MEASURED)).toBeUndefined();
    expect(readingMiddle({ kind: 'range', low: 6, high: 6.5 })).toBe(6.25);
  });
});

it('words keep the unit by its number', () => {
  expect(volumeWords(2600)).toBe('2.6\u00a0L');
  expect(volumeWords(250)).toBe('250\u00a0mL');
  expect(volumeWords(0.1666)).toBe('0.17\u00a0mL');
  expect(countWords(1, 'drop')).toBe('1\u00a0drop');
  expect(countWords(4, 'drop')).toBe('4\u00a0drops');
});

it('a long list is cut short, and never by a single one', () => {
  expect(someOf(['R-01', 'R-02', 'R-03'], 3)).toBe('R-01, R-02, R-03');
  expect(someOf(['R-01', 'R-02', 'R-03', 'R-04'], 3)).toBe('R-01, R-02, R-03, R-04');
  expect(someOf(['R-01', 'R-02', 'R-03', 'R-04', 'R-05'], 3)).toBe('R-01, R-02, R-03 and 2 more');
});
