import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { solveForAims, type DosedProduct, type ElementAim } from './aims.ts';
import { ELEMENTS } from './elements.ts';

const FEED: DosedProduct = {
  id: 'feed',
  mgPerUnit: { N: 36, P: 8, K: 45, Ca: 13, Mg: 4 },
  topDose: 5,
  costPerUnit: 0.012,
};
const CALMAG: DosedProduct = { id: 'calmag', mgPerUnit: { N: 42, Ca: 45, Mg: 10 }, topDose: 3, costPerUnit: 0.02 };
const EPSOM: DosedProduct = { id: 'epsom', mgPerUnit: { Mg: 98.6, S: 130 }, topDose: null, costPerUnit: 0.003 };

describe('doses for several aims', () => {
  it('one product, one aim: what is wanted over what a unit brings', () => {
    // 22 mg/L of magnesium at 98.6 mg/g, worked by hand.
    expect(solveForAims([EPSOM], [{ element: 'Mg', mgL: 22 }]).nearest.doses).toEqual([
      { id: 'epsom', dose: expect.closeTo(0.2231, 4) as number },
    ]);
  });
  it('as many aims as products that can meet them: met exactly', () => {
    const wanted = { feed: 1.2, calmag: 0.5, epsom: 0.1 };
    const get = (e: 'K' | 'Ca' | 'Mg') =>
      [FEED, CALMAG, EPSOM].reduce((sum, p) => sum + wanted[p.id as keyof typeof wanted] * (p.mgPerUnit[e] ?? 0), 0);
    const { nearest } = solveForAims(
      [FEED, CALMAG, EPSOM],
      (['K', 'Ca', 'Mg'] as const).map((element) => ({ element, mgL: get(element) })),
    );
    expect(nearest.misfit).toBeLessThan(1e-9);
    for (const { id, dose } of nearest.doses) expect(dose).toBeCloseTo(wanted[id as keyof typeof wanted], 6);
    expect(nearest.cost).toBeCloseTo(1.2 * 0.012 + 0.5 * 0.02 + 0.1 * 0.003, 9);
  });
  it('says honestly what cannot be met, and stops at the top dose', () => {
    const { nearest } = solveForAims([FEED], [{ element: 'K', mgL: 900 }]);
    expect(nearest.doses).toEqual([{ id: 'feed', dose: 5 }]);
    expect(nearest.misfit).toBeCloseTo(0.75, 9);
    expect(nearest.gets[0]).toMatchObject({ mgL: 225, wanted: 900 });
  });
  it('takes the fewest bottles that do as well, and the least money', () => {
    const twin: DosedProduct = { ...FEED, id: 'dear twin', costPerUnit: 0.1 };
    const aims: ElementAim[] = [
      { element: 'N', mgL: 36 },
      { element: 'K', mgL: 45 },
    ];
    const { fewest, cheapest } = solveForAims([twin, FEED, CALMAG], aims);
    expect(fewest.doses).toHaveLength(1);
    expect(cheapest!.doses.map((d) => d.id)).toEqual(['feed']);
    expect(solveForAims([{ ...FEED, costPerUnit: null }], aims).cheapest).toBeNull();
  });
  it('refuses no aim, an aim of nothing, and products that bring none of it', () => {
    expect(() => solveForAims([FEED], [])).toThrow(/nothing to aim at/);
    expect(() => solveForAims([FEED], [{ element: 'N', mgL: 0 }])).toThrow(/an aim/);
    expect(() => solveForAims([EPSOM], [{ element: 'P', mgL: 5 }])).toThrow(/None of the products/);
    expect(() => solveForAims(new Array<DosedProduct>(13).fill(FEED), [{ element: 'N', mgL: 5 }])).toThrow(
      /More than 12/,
    );
  });
  it('is the best there is: an independent descent within the bounds finds nothing nearer', () => {
    const element = fc.constantFrom(...ELEMENTS.slice(0, 6));
    const product = fc.record({
      mgPerUnit: fc.dictionary(element, fc.double({ min: 1, max: 100, noNaN: true }), { minKeys: 1, maxKeys: 5 }),
      topDose: fc.option(fc.double({ min: 0.1, max: 5, noNaN: true }), { nil: null }),
    });
    const aim = fc.record({ element, mgL: fc.double({ min: 2, max: 200, noNaN: true }) });
    fc.assert(
      fc.property(
        fc.array(product, { minLength: 1, maxLength: 4 }),
        fc.uniqueArray(aim, { minLength: 1, maxLength: 5, selector: (a) => a.element }),
        (raw, aims) => {
          const products = raw.map((p, i): DosedProduct => ({ ...p, id: String(i), costPerUnit: 1 }));
          fc.pre(products.some((p) => aims.some((a) => (p.mgPerUnit[a.element] ?? 0) > 0)));
          const { nearest, fewest } = solveForAims(products, aims);
          for (const { id, dose } of nearest.doses) {
            expect(dose).toBeGreaterThan(0);
            expect(dose).toBeLessThanOrEqual((products[Number(id)]!.topDose ?? Infinity) + 1e-6);
          }
          expect(nearest.misfit).toBeLessThanOrEqual(descend(products, aims) + 1e-6);
          expect(fewest.misfit).toBeLessThanOrEqual(nearest.misfit + 0.03 + 1e-9);
          expect(fewest.doses.length).toBeLessThanOrEqual(nearest.doses.length);
        },
      ),
      { numRuns: 200 },
    );
  });
});

/** Coordinate by coordinate towards the least misfit, held inside the bounds. */
function descend(products: readonly DosedProduct[], aims: readonly ElementAim[]): number {
  const a = aims.map((aim) => products.map((p) => (p.mgPerUnit[aim.element] ?? 0) / aim.mgL));
  const doses = products.map(() => 0);
  const miss = (row: readonly number[]) => row.reduce((sum, v, i) => sum + v * doses[i]!, 0) - 1;
  for (let round = 0; round < 4000; round++) {
    for (const [i, p] of products.entries()) {
      const weight = a.reduce((sum, row) => sum + row[i]! ** 2, 0);
      if (weight === 0) continue;
      const slope = a.reduce((sum, row) => sum + row[i]! * miss(row), 0);
      doses[i] = Math.min(p.topDose ?? Infinity, Math.max(0, doses[i]! - slope / weight));
    }
  }
  return Math.sqrt(a.reduce((sum, row) => sum + miss(row) ** 2, 0) / aims.length);
}
