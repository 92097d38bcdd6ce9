/**
 * Forecasts between rounds on simulated pots: a structurally different simulator (pores apart from the reservoir, creeping towards each other;
 * its own constants; losses that vary by the day; a feed with other buffering than is thought; a pen offset of 0.03, 1 SD) plays nine rounds; the
 * estimator sees pens and the window only. Coverage of the 90 % bands, error of the total drift after eight rounds, and the time of a
 * collection's forecasts.
 * `npx tsx bench/between.ts [pots]`
 */
import { median } from 'simple-statistics';
import {
  advisePour,
  alkaliAt,
  asMade,
  blendCurves,
  curveOf,
  daysIn,
  drawForecast,
  learnInterval,
  natureOf,
  POTS_AT_LARGE,
  potPath,
  restCarbon,
  type Band,
  type PotBelief,
  type PotWater,
  type PotSolution,
  type TitrationCurve,
} from '../src/core/drift/index.ts';
import { FLUSH_EFFICIENCY, PORES_PER_RESERVOIR, shareLeft } from '../src/core/reservoir/index.ts';
import {
  fillSim,
  flushSim,
  passDays,
  simEc,
  simPh,
  type SimPotNature,
  type SimSolution,
} from '../src/core/simulation/index.ts';
import { anchoredAt, composition } from '../src/core/solution/index.ts';
import { normal, seededRandom, type Random } from '../src/core/statistics/index.ts';

export const FEED: SimSolution = { idealEcUsCm: 200, alkalinityMeqL: 0.15, carbonMmolL: 0.15, phosphateMmolL: 0.28 };
export const RAIN: SimSolution = { idealEcUsCm: 48, alkalinityMeqL: 0.05, carbonMmolL: 0.107, phosphateMmolL: 0 };
/** What the grower's label and water say of the feed: an eighth less phosphate than there is. */
export const THOUGHT = composition({
  Ca: 0.2,
  Mg: 0.08,
  K: 1.1,
  NO3: 1.15,
  NH4: 0.12,
  PO4: 0.25,
  CO2: 0.15,
  SO4: 0.05,
});
export const RAIN_CURVE = curveOf(
  anchoredAt(composition({ Ca: 0.1, Na: 0.1, Cl: 0.1, NO3: 0.05, SO4: 0.02, CO2: 0.107 }), simPh(RAIN))!,
);
export const FLUSH_TIMES = 2;
const ROUNDS = 9;
const LEARNED_AFTER = 8;

/** No noise at all: Box and Muller give zero for a quarter turn. */
const STILL: Random = () => 0.25;

function natureOfPot(reservoirMl: number, random: Random): SimPotNature {
  const pushes = random() >= 0.5;
  return {
    reservoirMl,
    poreMl: reservoirMl * (0.2 + 0.15 * random()),
    evaporatedMlDay: 0.03 * reservoirMl * Math.exp(0.3 * normal(random)),
    drunkMlDay: 0.066 * reservoirMl * Math.exp(0.3 * normal(random)),
    uptakeShare: Math.min(1, Math.max(0, 0.7 + 0.2 * normal(random))),
    alkalinityUeqDay: (reservoirMl / 250) * (pushes ? 2 + 3 * random() : -0.5 + 0.8 * normal(random)),
    clayEcUsLDay: 0.3 * random(),
    flushLeaves: 0.2 + 0.3 * random(),
  };
}

export type PotResult = {
  readonly bands: readonly { readonly free: boolean; readonly ec: boolean; readonly ph: boolean }[];
  readonly misses: readonly { readonly ec: number; readonly ph: number }[];
  /** Total drift of pH over a week: as learned, and truly. */
  readonly drift: { readonly learned: number; readonly truly: number };
  /** Days of the next ten truly inside 5.5 to 6.5: poured as advised, and always at 5.8. */
  readonly advised: { readonly pourPh: number; readonly inside: number; readonly insideAt58: number };
  readonly water: PotWater;
  readonly belief: PotBelief;
};

const WINDOW = { low: 5.5, high: 6.5 };
const DAYS_AHEAD = 10;

/** The feed brought to a pH with acid or alkali, as it truly is. */
function pouredAt(ph: number): SimSolution {
  let [low, high] = [-2, 3];
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2;
    if (simPh({ ...FEED, alkalinityMeqL: middle }) < ph) low = middle;
    else high = middle;
  }
  return { ...FEED, alkalinityMeqL: (low + high) / 2 };
}

/** One pot for nine rounds. */
export function simulatePot(seed: number): PotResult {
  const random = seededRandom(seed);
  const reservoirMl = 150 + 250 * random();
  const nature = natureOfPot(reservoirMl, random);
  const offset = 0.03 * normal(random);
  const readPh = (s: SimSolution) => Math.round((simPh(s) + offset + 0.04 * normal(random)) * 10) / 10;
  const readEc = (s: SimSolution) => 2 * Math.round(0.5 * simEc(s) * (1 + 0.02 * normal(random)));
  const poreMl = PORES_PER_RESERVOIR * reservoirMl;
  const left = shareLeft(FLUSH_TIMES * reservoirMl, poreMl, FLUSH_EFFICIENCY.mean);
  let pot = { volumeMl: 0, reservoir: FEED, pores: FEED };
  let belief: PotBelief = POTS_AT_LARGE;
  let pores: { of: TitrationCurve; standing: PotSolution } | undefined;
  const bands: PotResult['bands'][number][] = [];
  const misses: PotResult['misses'][number][] = [];
  let drift = { learned: 0, truly: 1 };

  const filled = (ph: number, ecUsCm: number): PotWater => {
    const of = curveOf(anchoredAt(THOUGHT, ph)!);
    const curve = blendCurves([
      { volume: reservoirMl, of, standing: { ...asMade(of), strength: ecUsCm / of.ecUsCm } },
      { volume: poreMl * (1 - left), of: RAIN_CURVE },
      ...(pores ? [{ volume: poreMl * left, ...pores }] : []),
    ]);
    return { curve, standing: asMade(curve), reservoirMl, poreMl };
  };

  for (let round = 1; round <= ROUNDS; round++) {
    const days = 6 + Math.floor(3 * random());
    const pour = { ...FEED, idealEcUsCm: 200 * (1 + 0.05 * normal(random)), alkalinityMeqL: 0.1 + 0.1 * random() };
    const water = filled(readPh(pour), readEc(pour));
    pot = fillSim(flushSim(pot, nature, RAIN, FLUSH_TIMES * reservoirMl, random), nature, pour, reservoirMl);
    const expected = drawForecast(water, belief, 1, days, 200, random).at(-1)!;
    pot = passDays(pot, nature, days, random);
    const [ph, ec] = [readPh(pot.reservoir), readEc(pot.reservoir)];
    const leftMl = Math.round((pot.volumeMl * (1 + 0.05 * normal(random))) / 10) * 10;
    if (round > 3) {
      const inside = (band: Band, value: number) => value >= band.low && value <= band.high;
      bands.push({
        free: inside(expected.freeMl, leftMl),
        ec: inside(expected.ecUsCm, ec),
        ph: inside(expected.ph, ph),
      });
      misses.push({ ec: Math.log(ec / expected.ecUsCm.middle), ph: ph - expected.ph.middle });
    }
    belief = learnInterval(belief, { water, days, season: 1, leftMl, cameOutEcUsCm: ec, cameOutPh: ph });
    const strength = ec / water.curve.ecUsCm;
    const carbonMmolL = restCarbon(water.curve, ph);
    pores = {
      of: water.curve,
      standing: { strength, alkaliMeqL: alkaliAt(water.curve, strength, carbonMmolL, ph), carbonMmolL },
    };
    if (round === LEARNED_AFTER) {
      const start = simPh(FEED);
      const truly = passDays(
        fillSim(flushSim(pot, nature, RAIN, FLUSH_TIMES * reservoirMl, STILL), nature, FEED, reservoirMl),
        nature,
        7,
        STILL,
      );
      const fresh = filled(start, simEc(FEED));
      drift = {
        learned: potPath(fresh, natureOf(belief, fresh, 1), 7).at(-1)!.ph - start,
        truly: simPh(truly.reservoir) - start,
      };
    }
  }
  const water = filled(5.8, 200);
  const freshShare = reservoirMl / (reservoirMl + poreMl);
  const { pourPh } = advisePour(
    [{ id: '', water, belief, season: 1, days: DAYS_AHEAD, window: WINDOW, freshShare }],
    'steady',
  )!;
  const truly = (ph: number) => {
    let now = fillSim(flushSim(pot, nature, RAIN, FLUSH_TIMES * reservoirMl, STILL), nature, pouredAt(ph), reservoirMl);
    const course = [simPh(now.reservoir)];
    for (let day = 1; day <= DAYS_AHEAD; day++) course.push(simPh((now = passDays(now, nature, 1, STILL)).reservoir));
    return daysIn(course, WINDOW).inside;
  };
  return { bands, misses, drift, advised: { pourPh, inside: truly(pourPh), insideAt58: truly(5.8) }, water, belief };
}

if (/(between|all)\.ts$/.test(process.argv[1] ?? '')) {
  const count = Number(process.argv[2] ?? 200);
  const results = Array.from({ length: count }, (_, i) => simulatePot(1000 + i));
  const bands = results.flatMap((r) => r.bands);
  const misses = results.flatMap((r) => r.misses);
  const share = (of: (b: (typeof bands)[number]) => boolean) =>
    ((100 * bands.filter(of).length) / bands.length).toFixed(1);
  console.log(
    `${bands.length} forecasts; inside the 90 % band: water ${share((b) => b.free)} %, strength ${share((b) => b.ec)} %, pH ${share((b) => b.ph)} %`,
  );
  const mean = (values: number[]) => values.reduce((a, b) => a + b, 0) / values.length;
  console.log(
    `bias: strength ${(100 * mean(misses.map((m) => m.ec))).toFixed(1)} %, pH ${mean(misses.map((m) => m.ph)).toFixed(3)}`,
  );
  const close = results.filter(
    ({ drift }) => Math.abs(drift.learned - drift.truly) <= 0.2 * Math.abs(drift.truly),
  ).length;
  console.log(`total drift within 20 % after ${LEARNED_AFTER} rounds: ${((100 * close) / count).toFixed(1)} % of pots`);
  const leaves = results.filter(({ advised }) => advised.insideAt58 < DAYS_AHEAD - 0.5);
  const noWorse = results.filter(({ advised }) => advised.inside >= advised.insideAt58 - 0.25).length;
  const better = leaves.filter(({ advised }) => advised.inside > advised.insideAt58 + 0.25).length;
  console.log(
    `poured as advised: not worse than always 5.8 on ${((100 * noWorse) / count).toFixed(1)} % of pots; better on ${((100 * better) / Math.max(1, leaves.length)).toFixed(1)} % of the ${leaves.length} where 5.8 leaves the window`,
  );
  const some = results.slice(0, 100);
  const times = [1, 2, 3].map(() => {
    const from = performance.now();
    for (const [i, r] of some.entries()) drawForecast(r.water, r.belief, 1, 14, 200, seededRandom(i));
    return (5 * (performance.now() - from) * 100) / some.length;
  });
  console.log(`500 pots, 14 days, 200 draws: ${median(times).toFixed(0)} ms`);
  const paths = [1, 2, 3, 4, 5].map(() => {
    const from = performance.now();
    for (const r of some) potPath(r.water, natureOf(r.belief, r.water, 1), 14);
    return (5 * (performance.now() - from) * 100) / some.length;
  });
  console.log(`mean paths of 500 pots: ${median(paths).toFixed(0)} ms`);
}
