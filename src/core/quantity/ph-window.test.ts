import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { phSide, shownPh } from './index.ts';

const WINDOW = { low: 5.5, high: 6.5 };

describe('a pH against its window', () => {
  it('is judged by what is shown: what reads 6.5 is not above 6.5', () => {
    expect(phSide(6.53, WINDOW)).toBe('inside');
    expect(phSide(6.56, WINDOW)).toBe('above');
    expect(phSide(5.46, WINDOW)).toBe('inside');
    expect(phSide(5.44, WINDOW)).toBe('below');
    expect(phSide(5.83, { low: 5.85, high: 6 })).toBe('below');
  });
  it('never says of a figure on the screen what its own tenth contradicts', () => {
    fc.assert(
      fc.property(fc.double({ min: 3, max: 10, noNaN: true }), (ph) => {
        expect(phSide(ph, WINDOW)).toBe(phSide(shownPh(ph), WINDOW));
      }),
    );
  });
});
