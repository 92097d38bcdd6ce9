import fc from 'fast-check';
import { expect, it } from 'vitest';
import { COMPONENTS, composition, solve, type Component } from '../../src/core/solution/index.ts';
import { generalPh } from '../general-speciation.ts';

const amounts = Object.fromEntries(
  COMPONENTS.map((c) => [c, fc.oneof(fc.constant(0), fc.double({ min: 0.001, max: 4, noNaN: true }))]),
) as Record<Component, fc.Arbitrary<number>>;

it('agrees with a general speciation by successive substitution and bisection (our own second implementation, tests/general-speciation.ts)', () => {
  fc.assert(
    fc.property(fc.record(amounts), (parts) => {
      const c = composition(parts);
      const answer = solve(c);
      fc.pre(answer.ok);
      if (answer.ok) expect(Math.abs(answer.ph - generalPh(c, 1e-5))).toBeLessThan(1e-4);
    }),
    { numRuns: 12 },
  );
}, 30_000);
