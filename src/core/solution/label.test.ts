import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readLabel, type Label, type ReadLabel } from './index.ts';

const liquid = (percent: Label['percent'], more: Partial<Label> = {}): Label => ({
  form: 'liquid',
  basis: 'w/w',
  densityGMl: 1.2,
  percent,
  thinned: 1,
  ...more,
});
const read = (label: Label): ReadLabel => {
  const answer = readLabel(label);
  if (!answer.ok) throw new Error(answer.issues.map((i) => i.message).join(' '));
  return answer;
};
const issues = (label: Label) => {
  const answer = readLabel(label);
  return answer.ok ? [] : answer.issues;
};

describe('a label', () => {
  it('worked by hand: 5 % nitrate nitrogen by weight at 1.2 g/mL is 60 mg in a mL, 30 thinned one and one', () => {
    expect(read(liquid({ 'NO3-N': 5 })).elements.nitrateN).toBeCloseTo(60, 6);
    expect(read(liquid({ 'NO3-N': 5 }, { thinned: 2 })).elements.nitrateN).toBeCloseTo(30, 6);
    expect(read(liquid({ 'NO3-N': 5 }, { basis: 'w/v', densityGMl: null })).elements.nitrateN).toBeCloseTo(50, 6);
    expect(read(liquid({ 'NO3-N': 5 }, { form: 'powder', densityGMl: null })).elements.nitrateN).toBeCloseTo(50, 6);
  });
  it('that balances is closed with nearly nothing', () => {
    const made = read(liquid({ 'NO3-N': 5, 'NH4-N': 1, P2O5: 3, K2O: 9, CaO: 3, MgO: 1.1, SO3: 1, Fe: 0.05 }));
    expect(made.gap).toBeLessThan(0.01);
    expect(made.wide).toBe(false);
  });
  it('closes missing anions with chloride, or sulphate where sulphur stands on it, and says how wide that leaves it', () => {
    const bare = read(liquid({ 'NO3-N': 2, K2O: 10 }));
    expect(bare.closedWith).toBe('chloride');
    expect(bare.perUnit.Cl).toBeGreaterThan(0);
    // What only closes the charge is not told as if the label had declared it.
    expect(bare.elements.Cl).toBe(0);
    expect(bare.wide).toBe(true);
    expect(bare.sd / bare.ecPerUnitL).toBeGreaterThan(0.1);
    expect(read(liquid({ 'NO3-N': 2, K2O: 10, SO3: 1 })).closedWith).toBe('sulphate');
    expect(read(liquid({ 'NO3-N': 5, K2O: 2 })).closedWith).toBe('potassium');
  });
  it('does not close what is an acid or an alkali by declaration', () => {
    expect(read(liquid({ nitric: 10 }, { densityGMl: 1.05 })).perUnit.K).toBe(0);
    expect(read(liquid({ K2CO3: 10 }, { densityGMl: 1.09 })).perUnit.Cl).toBe(0);
    const silicate = read(liquid({ SiO2: 9, K2O: 4 }, { densityGMl: 1.1 }));
    expect(silicate.closedWith).toBe('alkali');
    expect(read(liquid({ SiO2: 9 }, { densityGMl: 1.1 })).supposed[0]).toMatch(/potassium silicate/);
  });
  it('takes nitrogen of no stated form as nitrate, and says so', () => {
    const made = read(liquid({ N: 7, 'NH4-N': 2, K: 10 }));
    expect(made.elements.nitrateN).toBeCloseTo(60, 6);
    expect(made.supposed[0]).toMatch(/taken as nitrate/);
    expect(read(liquid({ N: 7, 'organic-N': 7, K: 5 })).organicN).toBeCloseTo(84);
  });
  it('urea feeds no pen', () => {
    expect(read(liquid({ 'urea-N': 10, K2O: 0.001 })).ecPerUnitL).toBeLessThan(1);
    expect(read(liquid({ 'urea-N': 10, K2O: 1 })).elements.ureaN).toBeCloseTo(120);
  });
  it('an oxide beside its element counts once', () => {
    expect(read(liquid({ P2O5: 10, P: 4.36, K2O: 5 })).elements.P).toBeCloseTo(0.0436 * 1200, 3);
  });
  it.each<[string, Label, string, RegExp]>([
    ['over 100 %', liquid({ K2O: 120 }), 'K2O', /more than the whole/],
    ['over 100 % altogether', liquid({ K2O: 60, P2O5: 50 }), 'percent', /Altogether 110 %/],
    ['below zero', liquid({ K2O: -1 }), 'K2O', /below zero/],
    ['density missing', liquid({ K2O: 5 }, { densityGMl: null }), 'densityGMl', /weigh 10 mL/],
    ['density impossible', liquid({ K2O: 5 }, { densityGMl: 12 }), 'densityGMl', /0.7 to 2.2/],
    ['forms over the whole nitrogen', liquid({ N: 5, 'NO3-N': 6 }), 'N', /more than the 5 % altogether/],
    ['contradictory', liquid({ P2O5: 10, P: 10 }), 'P', /would be 4.36 % P/],
    ['empty', liquid({}), 'percent', /at least one figure/],
    ['thinned to nothing', liquid({ K2O: 5 }, { thinned: 0 }), 'thinned', /parts altogether/],
  ])('%s is said at its place', (_, label, at, message) => {
    expect(issues(label)).toContainEqual(expect.objectContaining({ at, message: expect.stringMatching(message) }));
  });
  it('elements scale with the percentages, and thinning halves all', () => {
    const percent = fc.record({
      'NO3-N': fc.double({ min: 0.1, max: 8, noNaN: true }),
      K2O: fc.double({ min: 0, max: 10, noNaN: true }),
      CaO: fc.double({ min: 0, max: 6, noNaN: true }),
      SO3: fc.double({ min: 0, max: 4, noNaN: true }),
    });
    fc.assert(
      fc.property(percent, (p) => {
        const [whole, half] = [read(liquid(p)), read(liquid(p, { thinned: 2 }))];
        expect(half.elements.N).toBeCloseTo(whole.elements.N / 2, 9);
        expect(half.ecPerUnitL / whole.ecPerUnitL).toBeCloseTo(0.5, 2);
        expect(Number.isFinite(whole.sd)).toBe(true);
      }),
    );
  });
});
