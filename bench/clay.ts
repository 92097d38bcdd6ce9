/**
 * Leaching clay on 500 simulated bags (sphere diffusion, varied grain, pen offset and noise): how often the 90 % range holds the next flat
 * reading, what the fewest-litres plan saves against changing daily with the same volume to the same true equilibrium, and the times of a
 * fit with its forecast and of a plan.
 */
import { median } from 'simple-statistics';
import {
  CLAY_AT_LARGE,
  firstWater,
  fitClay,
  flatPpm,
  forecastLeach,
  planLeach,
  playLeach,
  leachStanding,
  spreadOf,
  type LeachAct,
} from '../src/core/clay/index.ts';
import {
  changeLeach,
  drawBag,
  firstLeach,
  flatPpm as trueFlat,
  normal,
  seededRandom,
  leachHours,
} from '../src/core/simulation/index.ts';

const BAGS = 500;
const held = [0, 0, 0, 0, 0];
const fits: number[] = [];
const plans: number[] = [];
let planned = 0;
let daily = 0;
for (let b = 0; b < BAGS; b++) {
  const random = seededRandom(b + 20_000);
  const bag = drawBag(random, 10);
  const gain = 1 + 0.02 * normal(random);
  const read = (truth: number) => Math.max(0, Math.round(truth * gain * (1 + 0.01 * normal(random))));
  const firstL = 8 + 6 * random();
  let leach = firstLeach(bag, firstL);
  const acts: LeachAct[] = [];
  let t = 0;
  for (let s = 0; s < held.length; s++) {
    const from = performance.now();
    const history = { clayL: 10, firstL, acts };
    const fit = fitClay(CLAY_AT_LARGE, history);
    const range = spreadOf(fit, (clay) => flatPpm(clay, 10, playLeach(clay, history, t).leach));
    leachStanding(fit, history, t);
    forecastLeach(
      fit,
      history,
      t,
      [0, 48, 96, 144].map((inHours) => ({ inHours, freshL: firstL * 0.7 })),
      40,
    );
    fits.push(performance.now() - from);
    const flat = read(trueFlat(bag, leach));
    if (flat >= range.low - 1 && flat <= range.high + 1) held[s]!++;
    const hours = 24 + 50 * random();
    leach = leachHours(bag, leach, hours);
    t += hours;
    acts.push({ kind: 'reading', atHours: t, netPpm: read(leach.ppm) });
    const freshL = firstL * (1 - bag.retained);
    leach = changeLeach(bag, leach, freshL);
    acts.push({ kind: 'change', atHours: t, freshL });
  }
  const from = performance.now();
  const { clay } = fitClay(CLAY_AT_LARGE, { clayL: 10, firstL: 10, acts: [] });
  const plan = planLeach(
    clay,
    10,
    firstWater(clay, 10, 10),
    { coverL: 9, still: null, lookEveryHours: 24, mostDays: 21, gatePpm: 30 },
    'litres',
  );
  plans.push(performance.now() - from);
  let water = firstLeach(bag, 10);
  let at = 0;
  for (const change of plan.changes) {
    water = changeLeach(bag, leachHours(bag, water, change.inHours - at), change.freshL);
    at = change.inHours;
    planned += change.freshL;
  }
  const goal = trueFlat(bag, water);
  let other = firstLeach(bag, 10);
  for (let k = 0; k < 40 && trueFlat(bag, other) > goal; k++) {
    other = changeLeach(bag, leachHours(bag, other, 24), plan.changes[0]!.freshL);
    daily += plan.changes[0]!.freshL;
  }
}
const share = (n: number) => `${((100 * n) / BAGS).toFixed(1)} %`;
const all = held.reduce((a, b) => a + b) / (BAGS * held.length);
console.log(
  `90 % range for the next flat reading holds ${(100 * all).toFixed(1)} % of ${BAGS * held.length} (wanted 86 to 94); soak by soak ${held.map(share).join(', ')}`,
);
console.log(
  `fewest-litres plan against changing daily: ${(100 * (1 - planned / daily)).toFixed(1)} % less still water (wanted 20 at least)`,
);
console.log(
  `a fit with its whole forecast (path, bands, day): median ${median(fits).toFixed(2)} ms (wanted 20); a plan: ${median(plans).toFixed(2)} ms (wanted 200)`,
);
