import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { doseALitre, recipeStrength, type TrialRecipe } from './index.ts';

const recipe: TrialRecipe = {
  amount: 2,
  unit: 'mL',
  unitWords: '',
  dropsPerMl: null,
  spoonMl: null,
  waterL: 4,
  readsPpm: 109,
  basePpm: 9,
  scale: 0.5,
};

describe('so much gave so much', () => {
  it('is scaled over the water: 100 net ppm on the half scale from 0.5 mL/L is 400 µS/cm for 1 mL/L', () => {
    expect(recipeStrength(recipe)).toEqual({ known: true, ecPerMlL: 400 });
  });
  it('a label’s dose is one a litre, and none where its measure’s size is not known', () => {
    expect(doseALitre({ ...recipe, unit: 'spoons', amount: 1, spoonMl: 5 })).toBe(1.25);
    expect(doseALitre({ ...recipe, unit: 'spoons', amount: 1 })).toBeUndefined();
    expect(doseALitre({ ...recipe, unit: 'other', unitWords: 'cap', amount: 1 })).toBeUndefined();
    expect(doseALitre({ ...recipe, waterL: null })).toBeUndefined();
  });
  it('counts drops by their dropper and spoons by their size', () => {
    expect(recipeStrength({ ...recipe, unit: 'drops', amount: 40, dropsPerMl: 20 })).toEqual({
      known: true,
      ecPerMlL: 400,
    });
    expect(recipeStrength({ ...recipe, unit: 'spoons', amount: 0.4, spoonMl: 5 })).toEqual({
      known: true,
      ecPerMlL: 400,
    });
  });
  it.each([
    [{ unit: 'drops' as const }, /has not been counted/],
    [{ unit: 'spoons' as const }, /size of the spoon/],
    [{ unit: 'other' as const, unitWords: 'capful' }, /how much a capful holds/],
    [{ waterL: null }, /litres of water/],
    [{ readsPpm: null }, /pen read/],
    [{ basePpm: null }, /alone/],
    [{ scale: null }, /scale/],
    [{ readsPpm: 9 }, /no more than its water/],
  ])('%j is not scaled, and says why', (more, why) => {
    const strength = recipeStrength({ ...recipe, ...more });
    expect(strength.known).toBe(false);
    if (!strength.known) expect(strength.why).toMatch(why);
  });
  it('grams of a solid are its units: strength of a gram in a litre', () => {
    const known = recipeStrength({ ...recipe, amount: 1, unit: 'g', waterL: 2, readsPpm: 209, basePpm: 9, scale: 0.5 });
    expect(known).toEqual({ known: true, ecPerMlL: 800 });
  });
  it('twice the dose that gives twice as much over the water is the same strength', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.1, max: 50, noNaN: true }),
        fc.double({ min: 1, max: 400, noNaN: true }),
        fc.double({ min: 0.2, max: 40, noNaN: true }),
        (amount, net, waterL) => {
          const one = recipeStrength({ ...recipe, amount, waterL, readsPpm: 9 + net });
          const two = recipeStrength({ ...recipe, amount: 2 * amount, waterL, readsPpm: 9 + 2 * net });
          expect(one.known && two.known && Math.abs(two.ecPerMlL / one.ecPerMlL - 1)).toBeLessThan(1e-9);
        },
      ),
    );
  });
});
