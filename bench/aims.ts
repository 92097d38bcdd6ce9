/** Doses of 12 products for 12 element aims, 40 random shelves: median and worst time of one solve. */
import { median } from 'simple-statistics';
import { seededRandom } from '../src/core/statistics/random.ts';
import { ELEMENTS, solveForAims, type DosedProduct, type Element } from '../src/core/solution/index.ts';

const aimed = ELEMENTS.slice(0, 12);
const times: number[] = [];
for (let seed = 0; seed < 40; seed++) {
  const random = seededRandom(seed);
  const products = Array.from({ length: 12 }, (_, i): DosedProduct => {
    const mgPerUnit: Partial<Record<Element, number>> = {};
    for (const element of aimed) if (random() < 0.4) mgPerUnit[element] = 1 + 99 * random();
    return {
      id: String(i),
      mgPerUnit,
      topDose: random() < 0.3 ? 1 + 4 * random() : null,
      costPerUnit: 0.01 + random(),
    };
  });
  const aims = aimed.map((element) => ({ element, mgL: 5 + 100 * random() }));
  const from = performance.now();
  solveForAims(products, aims);
  times.push(performance.now() - from);
}
console.log(
  `12 products × 12 elements: median ${median(times).toFixed(1)} ms, worst ${Math.max(...times).toFixed(1)} ms of ${times.length}`,
);
