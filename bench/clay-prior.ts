/** Makes the numbers of src/core/clay/prior.ts: 240 simulated bags, each read thirty times over five soaks and fitted with hardly any prior. */
import { fitClay, type ClayPrior, type LeachAct } from '../src/core/clay/index.ts';
import { changeLeach, drawBag, firstLeach, seededRandom, leachHours } from '../src/core/simulation/index.ts';

const WEAK: ClayPrior = {
  mean: [Math.log(0.15), Math.log(0.27), Math.log(2), Math.log(20), Math.log(550), Math.log(550), Math.log(0.3 / 0.7)],
  covariance: Array.from({ length: 7 }, (_, i) =>
    Array.from({ length: 7 }, (__, j) => (i === j ? (i === 6 ? 0.25 : 0.6) : 0)),
  ),
};
const fitted = Array.from({ length: 240 }, (_, b) => {
  const random = seededRandom(b + 1000);
  const bag = drawBag(random, 10);
  const firstL = 8 + 6 * random();
  let leach = firstLeach(bag, firstL);
  const acts: LeachAct[] = [];
  for (let s = 0; s < 5; s++) {
    let at = 0;
    for (const hours of [0.5, 2, 6, 24, 48, 72]) {
      leach = leachHours(bag, leach, hours - at);
      at = hours;
      acts.push({ kind: 'reading', atHours: 72 * s + hours, netPpm: leach.ppm });
    }
    const freshL = firstL * (1 - bag.retained);
    leach = changeLeach(bag, leach, freshL);
    acts.push({ kind: 'change', atHours: 72 * (s + 1), freshL });
  }
  return fitClay(WEAK, { clayL: 10, firstL, acts }, { ppm: 1, share: 0.02 }).mean;
});
const mean = WEAK.mean.map((_, i) => fitted.reduce((sum, u) => sum + u[i]!, 0) / fitted.length);
const covariance = mean.map((_, i) =>
  mean.map(
    (__, j) => fitted.reduce((sum, u) => sum + (u[i]! - mean[i]!) * (u[j]! - mean[j]!), 0) / (fitted.length - 1),
  ),
);
console.log(
  JSON.stringify({
    mean: mean.map((v) => Number(v.toFixed(3))),
    covariance: covariance.map((row) => row.map((v) => Number(v.toFixed(4)))),
  }),
);
