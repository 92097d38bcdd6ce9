/**
 * The pH coach on simulated batches in soft and hard waters, beside the naive way (label and titration by alkalinity, then in proportion). The
 * truth is the simulators' own chemistry (carbonate and phosphate at fixed constants); the coach believes a composition whose alkalinity is 10 %
 * off (1 SD) and knows nothing of the carbon lost in filling. Errors, 1 SD: acid 5 %, drops 5 %, pen pH 0.05 (0.2 where hardly anything conducts).
 * `npx tsx bench/ph.ts [batches]`
 */
import { median } from 'simple-statistics';
import { phSide } from '../src/core/quantity/index.ts';
import { decidePh, penPhSd, responseSdOf, type PhSeen, type Stirred } from '../src/core/correction/index.ts';
import { doseSim, normal, seededRandom, simPh, type Random, type SimSolution } from '../src/core/simulation/index.ts';
import { alkalinityMeqL, composition, strengthSdOf, titrantPerMl, waterFromSigns } from '../src/core/solution/index.ts';
import { finestStepMl, roundDownToTool } from '../src/core/strength/index.ts';
import { TOOLS } from './bench-tools.ts';

const BATCHES = Number(process.argv[2] ?? 1000);
const NITRIC = titrantPerMl('nitric', 10);
const LEMON = titrantPerMl('lemon', 0);
const acidOf = (c: Case) => (c.lemon ? LEMON : NITRIC);
const FEED_WINDOW = { low: 5.5, high: 6.5 };
const SOAK_WINDOW = { low: 6.5, high: 7 };
/** Potassium silicate of a soak: mmol/L SiO2, and the meq/L of alkali it brings. */
const SILICATE = { SiO2: 0.8, K: 0.485 };

type Case = {
  window: { low: number; high: number };
  silicate: boolean;
  truth: SimSolution;
  believedAlkalinity: number;
  phosphate: number;
  volumeL: number;
  acidStrength: number;
  ecUsCm: number;
  /** 1 SD of the believed alkalinity, meq/L. */
  alkalinitySd: number;
  /** Of the water's carbonate, mmol/L. */
  carbonateSd: number;
  lemon: boolean;
  random: Random;
};

type World = {
  readonly alkalinity: (random: Random) => number;
  readonly silicate?: boolean;
  readonly window?: { low: number; high: number };
  /** A kit's own error, meq/L, beside a share of the alkalinity. */
  readonly kitSd?: number;
  /** What the acid is against its label. */
  readonly acid?: (random: Random) => number;
  readonly lemon?: boolean;
  readonly phosphate?: number;
};

/** What is believed of a water: by its analysis within a tenth; by a kit and the reading of the pen as the app takes them together. */
function believe(alkalinity: number, kitSd: number, random: Random) {
  const analysed = alkalinity * (1 + 0.1 * normal(random));
  if (kitSd === 0)
    return {
      believedAlkalinity: Math.max(0.02, analysed),
      alkalinitySd: Math.hypot(0.03, 0.12 * alkalinity),
      carbonateSd: 0.1 * alkalinity,
    };
  const ecUsCm = (alkalinity / (0.3 + 0.5 * random()) / 0.0095) * (1 + 0.02 * normal(random));
  for (;;) {
    const kit = Math.max(0, alkalinity + kitSd * normal(random));
    const known = waterFromSigns({ ecUsCm, ph: null, alkalinityMeqL: kit, hardnessMeqL: null, kind: 'still' });
    // One that contradicts the pen is counted again.
    if (known.ok)
      return {
        believedAlkalinity: alkalinityMeqL(known.composition),
        alkalinitySd: Math.hypot(0.03, known.alkalinitySd),
        carbonateSd: known.alkalinitySd,
      };
  }
}

function draw(
  seed: number,
  { alkalinity, silicate = false, window, kitSd = 0, acid, lemon = false, phosphate: mostPhosphate = 0.4 }: World,
): Case {
  const random = seededRandom(seed);
  const alkali = alkalinity(random);
  const phosphate = silicate || mostPhosphate === 0 ? 0 : 0.05 + mostPhosphate * random();
  const feed = 150 + 450 * random();
  const startPh = 6.9 + 0.7 * random();
  // Carbon by which the water stands at its pH, a little lost on the way.
  const carbonMmolL = (alkali * (1 + 10 ** (6.35 - startPh)) + 0.01) * (1 - 0.1 * random());
  const strength = 1 + 0.05 * normal(random);
  return {
    window: window ?? (silicate ? SOAK_WINDOW : FEED_WINDOW),
    silicate,
    truth: {
      silicaMmolL: silicate ? SILICATE.SiO2 * strength : 0,
      idealEcUsCm: feed + 95 * alkali,
      alkalinityMeqL: alkali + 0.02 * normal(random) + (silicate ? SILICATE.K * strength : 0),
      carbonMmolL,
      phosphateMmolL: phosphate,
    },
    ...believe(alkali, kitSd, random),
    phosphate,
    volumeL: 0.25 * 40 ** random(),
    acidStrength: acid ? acid(random) : 1 + 0.05 * normal(random),
    ecUsCm: feed + 95 * alkali,
    lemon,
    random,
  };
}

const readPh = (c: Case, s: SimSolution) => Math.round((simPh(s) + penPhSd(c.ecUsCm) * normal(c.random)) * 100) / 100;
function pour(c: Case, s: SimSolution, ml: number): SimSolution {
  const mlPerL = (c.acidStrength * ml * Math.max(0, 1 + 0.05 * normal(c.random))) / c.volumeL;
  return doseSim(
    s,
    c.lemon
      ? { citrateMmolL: LEMON.citrate * mlPerL, alkalinityMeqL: LEMON.K * mlPerL }
      : { alkalinityMeqL: -1.674 * mlPerL },
  );
}
type Outcome = { inside: boolean; corrections: number; thinned: boolean; under: boolean };
const times: number[] = [];

/** Whether the next reading came into the range foretold for it; by which correction it was. */
type Foretold = { correction: number; held: boolean; width: number };
const foretold: Foretold[] = [];

function coached(c: Case): Outcome {
  const total = composition({
    Ca: c.believedAlkalinity / 2,
    CO2: c.believedAlkalinity * 1.08 + 0.01,
    K: 2 + c.phosphate,
    NO3: 2,
    PO4: c.phosphate,
    ...(c.silicate ? { K: SILICATE.K, SiO2: SILICATE.SiO2, NO3: 0 } : {}),
  });
  let truth = c.truth;
  const seen: PhSeen[] = [];
  const stirred: Stirred[] = [];
  let thinned = false;
  let said: { low: number; high: number } | undefined;
  for (let corrections = 0; ; corrections++) {
    const ph = readPh(c, truth);
    if (said)
      foretold.push({ correction: corrections, held: ph >= said.low && ph <= said.high, width: said.high - said.low });
    seen.push({ ph, sd: penPhSd(c.ecUsCm), after: [...stirred] });
    const side = phSide(ph, c.window);
    if (side === 'inside') return { inside: true, corrections, thinned, under: false };
    if (side === 'below' || corrections === 3) return { inside: false, corrections, thinned, under: side === 'below' };
    const from = performance.now();
    const decision = decidePh({
      total,
      alkalinitySd: c.alkalinitySd,
      responseSd: responseSdOf(strengthSdOf(acidOf(c)), {
        alkalinityMeqL: Math.max(c.believedAlkalinity, alkalinityMeqL(total)),
        carbonate: total.CO2,
        sd: c.carbonateSd,
      }),
      carbonateSd: c.carbonateSd,
      volumeL: c.volumeL,
      window: c.window,
      seen,
      stirred,
      correctionsUsed: corrections,
      perMl: acidOf(c),
      direction: 'down',
      tools: TOOLS,
    });
    times.push(performance.now() - from);
    if (decision.kind !== 'dose') return { inside: false, corrections, thinned, under: false };
    thinned ||= decision.ratio > 1;
    said = decision.expected;
    truth = pour(c, truth, decision.ml);
    stirred.push({ perMl: acidOf(c), mlPerL: decision.ml / c.volumeL });
  }
}

/** Alkalinity to the end point by the label, then in proportion to what it moved; never thinned. */
function naive(c: Case): Outcome {
  let truth = c.truth;
  let before = readPh(c, truth);
  let moved = 0;
  let given = 0;
  for (let corrections = 0; ; corrections++) {
    const ph = corrections === 0 ? before : readPh(c, truth);
    if (corrections > 0) moved = Math.max(0.05, before - ph);
    const side = phSide(ph, c.window);
    if (side === 'inside') return { inside: true, corrections, thinned: false, under: false };
    if (side === 'below' || corrections === 3)
      return { inside: false, corrections, thinned: false, under: side === 'below' };
    const wanted = corrections === 0 ? (c.believedAlkalinity * 0.7 * c.volumeL) / 1.674 : (given * (ph - 6)) / moved;
    const dose = roundDownToTool(Math.max(wanted, finestStepMl(TOOLS)), TOOLS);
    given = dose!.doseMl;
    before = ph;
    truth = pour(c, truth, given);
  }
}

function report(name: string, outcomes: Outcome[]): void {
  const share = (f: (o: Outcome) => boolean) => `${((100 * outcomes.filter(f).length) / outcomes.length).toFixed(1)} %`;
  console.log(
    `${name.padEnd(46)} in window in ≤ 2 corrections ${share((o) => o.inside && o.corrections <= 2)} · in ≤ 3 ${share((o) => o.inside)} · under it ${share((o) => o.under)} · thinned ${share((o) => o.thinned)} · median corrections ${median(outcomes.map((o) => o.corrections))}`,
  );
}

const percent = (of: number, all: number) => `${((100 * of) / all).toFixed(0)} %`;
const SOFT = (r: Random) => 0.05 * 10 ** r();
const WORLDS: Record<string, World> = {
  'soft, 0.05 to 0.5 meq/L': { alkalinity: SOFT },
  'hard, 1 to 5 meq/L': { alkalinity: (r) => 1 + 4 * r() },
  'silicate soak in rain, 6.5 to 7.0': { alkalinity: (r) => 0.03 + 0.1 * r(), silicate: true },
  'very soft by a drop kit, Epsom, 5.8 to 6.2': {
    alkalinity: (r) => 0.1 + 0.16 * r(),
    window: { low: 5.8, high: 6.2 },
    kitSd: 0.126,
    phosphate: 0,
  },
  'very soft by a drop kit, feed': { alkalinity: (r) => 0.1 + 0.16 * r(), kitSd: 0.126 },
  'lemon, soft and hard': {
    alkalinity: (r) => 0.1 * 30 ** r(),
    acid: (r) => Math.exp(0.25 * normal(r)),
    lemon: true,
  },
  'acid half its label': { alkalinity: (r) => 0.3 + 2 * r(), acid: (r) => 0.5 + 0.03 * normal(r) },
  'acid twice its label': { alkalinity: (r) => 0.3 + 2 * r(), acid: (r) => 2 + 0.1 * normal(r) },
};
for (const [name, world] of Object.entries(WORLDS)) {
  const cases = (run: (c: Case) => Outcome) => Array.from({ length: BATCHES }, (_, i) => run(draw(7000 + i, world)));
  foretold.length = 0;
  report(`coach, ${name}`, cases(coached));
  for (const correction of [1, 2, 3]) {
    const those = foretold.filter((f) => f.correction === correction);
    if (those.length < 20) continue;
    const held = those.filter((f) => f.held).length;
    console.log(
      `  after correction ${correction} its 90 % range held ${percent(held, those.length)} of ${those.length}, width ${median(those.map((f) => f.width)).toFixed(2)}`,
    );
  }
  report(`naive, ${name}`, cases(naive));
}
console.log(`one decision: median ${median(times).toFixed(1)} ms over ${times.length}`);
