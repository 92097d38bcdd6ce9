/**
 * Leaching clay in four worlds of different make, none of which a prior was taken from; `slabs` is used for nothing but judging. Of every world:
 * how often the 90 % range holds the next flat reading, with its width and error; whether what is called ready stays under the gate in the
 * standard soak, and how many bags are called within 50 days; still water against changing every day; days and
 * litres lost against one who knows the clay. Times of a fit and a plan.
 * `npx tsx bench/clay.ts [bags a world]`
 */
import { median, quantile } from 'simple-statistics';
import {
  chanceReady,
  CLAY_AT_LARGE,
  fitClay,
  flatPpm,
  playLeach,
  SURE,
  spreadsOf,
  type LeachAct,
} from '../src/core/clay/index.ts';
import {
  changeBath,
  CLAY_WORLDS,
  drawWorldBag,
  firstBath,
  normal,
  seededRandom,
  standardOf,
  standHours,
  type ClayWorld,
  type WorldBag,
} from '../src/core/simulation/index.ts';

const BAGS = Number(process.argv[2] ?? 60);
const GATE = 40;
const DAYS = 50;
const CLAY_L = 10;
const WATER = 1;
/** What a pen cannot show. */
const DIGIT = 1;
const fits: number[] = [];

type Outcome = {
  held: boolean[];
  widths: number[];
  errors: number[];
  /** What a bag that was called ready truly comes to, and what another day adds. */
  called: { comesTo: number; adds: number; day: number; litres: number } | undefined;
};

function readerOf(bag: WorldBag, seed: number) {
  const random = seededRandom(seed);
  const gain = 1 + 0.02 * normal(random);
  let layers = 1;
  return {
    newBath: () => (layers = 1 + bag.unstirred * normal(random)),
    read: (ppm: number) => Math.max(0, Math.round(ppm * gain * layers * (1 + 0.01 * normal(random)))),
  };
}

/** The grower looks each day, reads, and changes by the plain rule: once another day adds less than a twentieth, by the middle of the belief. */
function followed(world: ClayWorld, b: number): Outcome {
  const bag = drawWorldBag(world, seededRandom(70_000 + 97 * b));
  const { newBath, read } = readerOf(bag, 500 + b);
  let bath = firstBath(bag, WATER);
  const acts: LeachAct[] = [];
  const history = { clayL: CLAY_L, firstL: WATER * CLAY_L, acts };
  const out: Outcome = { held: [], widths: [], errors: [], called: undefined };
  let changedAt = 0;
  let litres = WATER * CLAY_L;
  for (let day = 1; day <= DAYS && !out.called; day++) {
    bath = standHours(bag, bath, 24);
    acts.push({ kind: 'reading', atHours: 24 * day, netPpm: read(bath.ppm) });
    const from = performance.now();
    const fit = fitClay(CLAY_AT_LARGE, history);
    fits.push(performance.now() - from);
    const [next, now] = spreadsOf(fit, (clay) => {
      const { leach } = playLeach(clay, history, 24 * day);
      return [flatPpm(clay, CLAY_L, leach), leach.ppm];
    });
    if (day === changedAt + 1) {
      // Of each bath's first reading: what it will be once it is flat.
      const flat = trueFlat(bag, bath);
      const shown = read(flat);
      out.held.push(shown >= next!.low - 1 && shown <= next!.high + 1);
      out.widths.push((next!.high - next!.low) / Math.max(5, flat));
      out.errors.push(Math.abs(Math.log(next!.mean / flat)));
    }
    const chance = chanceReady(fit, history, 24 * day, GATE, true);
    if (chance.ready) {
      const later = standHours(bag, bath, 24).ppm;
      out.called = {
        comesTo: standardOf(bag, bath),
        adds: (later - bath.ppm - DIGIT) / Math.max(5, later),
        day,
        litres,
      };
    } else if (!chance.lowEnough && next!.mean - now!.mean <= 0.05 * next!.mean + 0.5) {
      const freshL = WATER * CLAY_L * (1 - bag.retained);
      bath = changeBath(bag, bath, freshL / CLAY_L);
      acts.push({ kind: 'change', atHours: 24 * day, freshL, pouredOffL: freshL });
      litres += freshL;
      changedAt = day;
      newBath();
    }
  }
  return out;
}

function trueFlat(bag: WorldBag, bath: Parameters<typeof standHours>[1]): number {
  let now = bath;
  for (let day = 0; day < 7; day++) {
    const later = standHours(bag, now, 24);
    if (later.ppm - now.ppm <= 0.05 * later.ppm + 0.25) return now.ppm;
    now = later;
  }
  return now.ppm;
}

/** Water that changing every day takes until the clay truly comes to as little. */
function daily(world: ClayWorld, b: number, goal: number): number {
  const bag = drawWorldBag(world, seededRandom(70_000 + 97 * b));
  let bath = firstBath(bag, WATER);
  let litres = WATER * CLAY_L;
  for (let day = 0; day < 90 && standardOf(bag, bath) > goal; day++) {
    const freshL = WATER * (1 - bag.retained);
    bath = changeBath(bag, standHours(bag, bath, 24), freshL);
    litres += freshL * CLAY_L;
  }
  return litres;
}

/** The same plain rule by one who knows the clay as it truly is: the day it is fit to plant, and the water it took. */
function oracle(world: ClayWorld, b: number): { day: number; litres: number } | undefined {
  const bag = drawWorldBag(world, seededRandom(70_000 + 97 * b));
  let bath = firstBath(bag, WATER);
  let litres = WATER * CLAY_L;
  for (let day = 1; day <= DAYS; day++) {
    bath = standHours(bag, bath, 24);
    const later = standHours(bag, bath, 24).ppm;
    if (standardOf(bag, bath) <= GATE) {
      if (later - bath.ppm <= SURE.stillDay * later + 0.5) return { day, litres };
    } else if (trueFlat(bag, bath) - bath.ppm <= 0.05 * later + 0.5) {
      const freshL = WATER * (1 - bag.retained);
      bath = changeBath(bag, bath, freshL);
      litres += freshL * CLAY_L;
    }
  }
  return undefined;
}

const percent = (part: number, of: number) => `${((100 * part) / Math.max(1, of)).toFixed(0)} %`;
/** The 90 % interval of a share (Wilson). */
function interval(part: number, of: number): string {
  const z = 1.645;
  const p = part / of;
  const middle = (p + z ** 2 / (2 * of)) / (1 + z ** 2 / of);
  const half = (z / (1 + z ** 2 / of)) * Math.sqrt((p * (1 - p)) / of + z ** 2 / (4 * of ** 2));
  return `${(100 * (middle - half)).toFixed(0)}–${(100 * (middle + half)).toFixed(0)}`;
}

for (const world of CLAY_WORLDS) {
  const outcomes = Array.from({ length: BAGS }, (_, b) => followed(world, b));
  const held = outcomes.flatMap((o) => o.held);
  const called = outcomes.flatMap((o, b) => (o.called ? [{ ...o.called, b }] : []));
  const truly = called.filter((c) => c.comesTo <= GATE).length;
  const saved = called.map((c) => 1 - c.litres / daily(world, c.b, c.comesTo));
  const first = outcomes.filter((o) => o.held[0]).length;
  const lost = called.flatMap(({ b, day, litres }) => {
    const best = oracle(world, b);
    return best ? [{ days: day - best.day, litresAL: (litres - best.litres) / CLAY_L }] : [];
  });
  console.log(
    `${world}: next flat reading held ${percent(held.filter(Boolean).length, held.length)} of ${held.length} (${interval(held.filter(Boolean).length, held.length)}; first bath ${percent(first, BAGS)}), width ${percent(median(outcomes.flatMap((o) => o.widths)), 1)} of it, error ${median(outcomes.flatMap((o) => o.errors)).toFixed(3)} ln; ` +
      `called ready ${percent(called.length, BAGS)} within ${DAYS} days (median day ${called.length > 0 ? median(called.map((c) => c.day)) : '–'}), truly under the gate ${percent(truly, called.length)} (${called.length > 0 ? interval(truly, called.length) : '–'}), worst ${called.length > 0 ? Math.max(...called.map((c) => c.comesTo)).toFixed(0) : '–'}, ten per cent still to come ${called.filter((c) => c.adds > 0.1).length}; ` +
      `still water against daily: ${called.length > 0 ? percent(median(saved), 1) : '–'} less; ` +
      `against one who knows the clay: ${lost.length > 0 ? `${median(lost.map((l) => l.days))} days and ${median(lost.map((l) => l.litresAL)).toFixed(2)} L a litre of clay more` : '–'}`,
  );
}
console.log(
  `a fit: median ${median(fits).toFixed(0)} ms, 95 % under ${quantile(fits, 0.95).toFixed(0)} ms; sure is ${SURE.low}`,
);
