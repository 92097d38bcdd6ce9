import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  addComposition,
  alkalinityMeqL,
  blendCompositions,
  CLOSED,
  COMPONENTS,
  composition,
  elementsOf,
  evaporate,
  OPEN,
  scaleComposition,
  solve,
  type Component,
  type Composition,
} from './index.ts';
import { SPECIES, SPECIES_NAMES, type SpeciesName } from './species.ts';

/** Anything a user can make: strong feeds, hard taps, citrate, silicate, all at once. */
const amounts = fc.record(
  Object.fromEntries(
    COMPONENTS.map((c) => [c, fc.oneof(fc.constant(0), fc.double({ min: 0, max: 8, noNaN: true }))]),
  ) as Record<Component, fc.Arbitrary<number>>,
);
const anything: fc.Arbitrary<Composition> = amounts.map((parts) => composition(parts));
/** Charges near enough to meet inside pH 2 to 12. */
const solvable = anything.filter((c) => solve(c).ok);
const wild = fc
  .record(
    Object.fromEntries(COMPONENTS.map((c) => [c, fc.double({ min: 0, max: 5000, noNaN: true })])) as Record<
      Component,
      fc.Arbitrary<number>
    >,
  )
  .map((parts) => composition(parts));

const solved = (c: Composition, air = CLOSED, t = 25) => {
  const answer = solve(c, air, t);
  if (!answer.ok) throw new Error(answer.message);
  return answer;
};
/** Which components a species is made of. */
const MADE: Partial<Record<Component, readonly SpeciesName[]>> = {
  Ca: ['Ca', 'CaHCO3', 'CaH2PO4', 'CaPO4', 'CaH2Cit', 'CaCit', 'CaSO4', 'CaHPO4', 'CaCO3', 'CaHCit'],
  Mg: ['Mg', 'MgHCO3', 'MgH2PO4', 'MgPO4', 'MgH2Cit', 'MgCit', 'MgSO4', 'MgHPO4', 'MgCO3', 'MgHCit'],
  SO4: ['SO4', 'HSO4', 'NaSO4', 'KSO4', 'MgSO4', 'CaSO4'],
  PO4: ['H3PO4', 'H2PO4', 'HPO4', 'PO4', 'CaH2PO4', 'MgH2PO4', 'CaHPO4', 'MgHPO4', 'CaPO4', 'MgPO4'],
  CO2: ['CO2', 'HCO3', 'CO3', 'CaHCO3', 'MgHCO3', 'CaCO3', 'MgCO3'],
  citrate: ['H3Cit', 'H2Cit', 'HCit', 'Cit', 'CaH2Cit', 'MgH2Cit', 'CaHCit', 'MgHCit', 'CaCit', 'MgCit'],
  SiO2: ['H4SiO4', 'H3SiO4', 'H2SiO4'],
  NH4: ['NH4', 'NH3'],
  K: ['K', 'KSO4'],
  Na: ['Na', 'NaSO4'],
};

describe('a solution', () => {
  it('conserves every mass between its species', () => {
    fc.assert(
      fc.property(solvable, (c) => {
        const { species } = solved(c);
        for (const [component, names] of Object.entries(MADE) as [Component, SpeciesName[]][]) {
          const found = names.reduce((sum, name) => sum + species[name], 0);
          expect(Math.abs(found - c[component])).toBeLessThan(1e-6 + 1e-6 * c[component]);
        }
      }),
    );
  });
  it('is neutral', () => {
    fc.assert(
      fc.property(solvable, (c) => {
        const { species } = solved(c);
        const charge = SPECIES_NAMES.reduce((sum, name) => sum + SPECIES[name][0] * species[name], 0);
        const all = SPECIES_NAMES.reduce((sum, name) => sum + Math.abs(SPECIES[name][0]) * species[name], 0);
        expect(Math.abs(charge)).toBeLessThan(1e-6 + 1e-6 * all);
      }),
    );
  });
  it('always ends, with a number inside the model or a reason outside it', () => {
    fc.assert(
      fc.property(
        fc.oneof(anything, wild),
        fc.constantFrom(CLOSED, OPEN),
        fc.double({ min: 5, max: 35, noNaN: true }),
        (c, air, t) => {
          const answer = solve(c, air, t);
          if (answer.ok) {
            expect(answer.ph).toBeGreaterThan(2);
            expect(answer.ph).toBeLessThan(12);
            expect(answer.ecUsCm).toBeGreaterThan(0);
          } else {
            expect(answer.why).not.toBe('notConverged');
            expect(answer.message.length).toBeGreaterThan(20);
          }
        },
      ),
      { numRuns: 400 },
    );
  });
  it('has no answer for concentrates, acids and lyes: a reason, never a number', () => {
    expect(solve(composition({ K: 1000, NO3: 1000 }))).toMatchObject({ ok: false, why: 'tooStrong' });
    expect(solve(composition({ NO3: 60 }))).toMatchObject({ ok: false, why: 'tooAcid' });
    expect(solve(composition({ K: 60 }))).toMatchObject({ ok: false, why: 'tooAlkaline' });
    expect(() => solve(composition({}), CLOSED, 60)).toThrow(/5 to 35/);
    expect(() => composition({ Ca: -1 })).toThrow(/below zero/);
  });
  it('rises in pH with every bit of base', () => {
    fc.assert(
      fc.property(solvable, fc.double({ min: 0.01, max: 2, noNaN: true }), (c, base) => {
        const more = solve(addComposition(c, composition({ K: 1 }), base));
        fc.pre(more.ok);
        expect(more.ok && more.ph).toBeGreaterThan(solved(c).ph);
      }),
    );
  });
  it('conducts more with every bit of a strong salt', () => {
    fc.assert(
      fc.property(solvable, fc.double({ min: 0.05, max: 5, noNaN: true }), (c, salt) => {
        const more = solve(addComposition(c, composition({ K: 1, Cl: 1 }), salt));
        fc.pre(more.ok);
        expect(more.ok && more.ecUsCm).toBeGreaterThan(solved(c).ecUsCm);
      }),
    );
  });
  it('is the same after thinning and concentrating again, closed', () => {
    fc.assert(
      fc.property(solvable, fc.double({ min: 1.1, max: 50, noNaN: true }), (c, factor) => {
        const again = solved(evaporate(scaleComposition(c, 1 / factor), factor, 1));
        expect(again.ph).toBeCloseTo(solved(c).ph, 5);
        expect(again.ecUsCm / solved(c).ecUsCm).toBeCloseTo(1, 6);
      }),
    );
  });
  it('blends the same whichever is poured first, alkalinity and elements in proportion', () => {
    fc.assert(
      fc.property(
        anything,
        anything,
        fc.double({ min: 0.1, max: 10, noNaN: true }),
        fc.double({ min: 0.1, max: 10, noNaN: true }),
        (a, b, va, vb) => {
          const one = blendCompositions([
            { volumeL: va, of: a },
            { volumeL: vb, of: b },
          ]);
          const two = blendCompositions([
            { volumeL: vb, of: b },
            { volumeL: va, of: a },
          ]);
          for (const component of COMPONENTS) expect(one[component]).toBeCloseTo(two[component], 9);
          expect(alkalinityMeqL(one)).toBeCloseTo((va * alkalinityMeqL(a) + vb * alkalinityMeqL(b)) / (va + vb), 9);
          expect(elementsOf(one).N).toBeCloseTo((va * elementsOf(a).N + vb * elementsOf(b).N) / (va + vb), 8);
        },
      ),
    );
  });
  it('half evaporated without uptake is close to twice the strength, a few percent under: readings are not quite linear', () => {
    const feed = composition({ Ca: 0.3, K: 0.7, NO3: 1.1, PO4: 0.15, NH4: 0.15, Mg: 0.1, SO4: 0.15 });
    const times = solved(evaporate(feed, 1, 0.5)).ecUsCm / solved(feed).ecUsCm;
    expect(times).toBeGreaterThan(1.9);
    expect(times).toBeLessThan(2);
  });
  it('gains carbon in air when alkaline and loses it when acid', () => {
    expect(solved(composition({ K: 1 }), OPEN).carbonMmolL).toBeCloseTo(1, 1);
    expect(solved(composition({ K: 1, CO2: 1 }), OPEN).ph).toBeGreaterThan(
      solved(composition({ K: 1, CO2: 2 }), CLOSED).ph,
    );
  });
});
