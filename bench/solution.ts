/**
 * The solution solver: median time of one full solve over 400 waters, feeds and acidified batches, solves per second, and how much faster it
 * is than plain bisection to the same tolerance with everything rebuilt at each step (tests/general-speciation.ts).
 */
import { median } from 'simple-statistics';
import { seededRandom } from '../src/core/statistics/random.ts';
import { CLOSED, composition, OPEN, solve, type Composition } from '../src/core/solution/index.ts';
import { generalPh } from '../tests/general-speciation.ts';

const random = seededRandom(4);
const between = (low: number, high: number) => low + (high - low) * random();
const solutions: Composition[] = Array.from({ length: 400 }, (_, i) =>
  composition({
    Ca: between(0.1, 2),
    Mg: between(0.05, 1),
    K: between(0.1, 3),
    Na: between(0, 1),
    NH4: between(0, 0.5),
    NO3: between(0.3, 4),
    Cl: between(0, 0.5),
    SO4: between(0, 0.5),
    PO4: between(0, 0.6),
    SiO2: i % 3 === 0 ? between(0, 1) : 0,
    CO2: between(0, 3),
    citrate: i % 4 === 0 ? between(0, 1) : 0,
  }),
);
const time = (work: () => void): number => {
  const from = performance.now();
  work();
  return (performance.now() - from) * 1000;
};
for (const c of solutions) solve(c);
const full: number[] = [];
for (let round = 0; round < 10; round++)
  for (const c of solutions) full.push(time(() => void solve(c, round % 2 ? OPEN : CLOSED)));
for (const c of solutions.slice(0, 5)) generalPh(c);
const general = solutions.slice(0, 40).map((c) => time(() => void generalPh(c)));
const one = median(full);
console.log(
  `one full solve: median ${one.toFixed(1)} µs, ${Math.round(1e6 / one).toLocaleString('en-GB')} a second (wanted: 50 µs at most)`,
);
console.log(
  `bisection, rebuilt each step: median ${(median(general) / 1000).toFixed(2)} ms; ratio ${Math.round(median(general) / one)} (wanted: 5 at least)`,
);
