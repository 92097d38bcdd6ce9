/**
 * The portion coach on 1,000 simulated one-product batches, beside the naive way (scale the label, then correct in proportion).
 * Errors, 1 SD: stock 30 %, pipetting 5 %, pen 2 %; water's own reading up to 140 ppm. Prints shares and the median time of a decision.
 */
import { median } from 'simple-statistics';
import { normal, seededRandom, type Random } from '../src/core/statistics/random.ts';
import {
  addPortion,
  decidePortion,
  feedAim,
  priorBelief,
  roundDownToTool,
  startBatch,
  takeReading,
  thinningRatio,
} from '../src/core/strength/index.ts';
import { PEN, TOOLS } from './bench-tools.ts';

const LABEL = 300;
const BATCHES = 1000;

type Outcome = { inBandByPen: boolean; inBandTruly: boolean; pastHard: boolean; portions: number };
type Setup = { strength: number; base: number; net: number; volumeL: number; random: Random };

function setup(random: Random): Setup {
  return {
    strength: LABEL * Math.max(0.15, 1 + 0.3 * normal(random)),
    base: 2 * 140 * random(),
    net: 2 * (75 + 225 * random()),
    volumeL: 1 + 9 * random(),
    random,
  };
}
const pen = (truth: number, random: Random) =>
  Math.max(0, 2 * Math.round((truth * (1 + PEN.relativeSd * normal(random))) / 2));
const poured = (doseMl: number, random: Random) => doseMl * Math.max(0, 1 + 0.05 * normal(random));

const decisionTimes: number[] = [];

function coached(s: Setup, lookAhead: boolean): Outcome {
  const aim = feedAim(s.net);
  const ratio = thinningRatio(LABEL, s.volumeL, aim, TOOLS);
  const prior = priorBelief(LABEL / ratio);
  const baseReading = pen(s.base, s.random);
  let batch = startBatch(prior, s.volumeL, baseReading, PEN);
  let truth = 0;
  let last = baseReading;
  let everPast = false;
  for (let portions = 0; portions < 3; portions++) {
    const from = performance.now();
    const decision = decidePortion({
      batch,
      aim,
      pen: PEN,
      tools: TOOLS,
      portionsUsed: portions,
      lastReadingEcUsCm: last,
      capacityL: 12,
      lookAhead,
    });
    decisionTimes.push(performance.now() - from);
    if (decision.kind !== 'add') return judge(aim, s, truth, last - baseReading, portions, everPast);
    truth += (poured(decision.dose.doseMl, s.random) * s.strength) / ratio / s.volumeL;
    everPast ||= truth > aim.hardEcUsCm;
    last = pen(s.base + truth, s.random);
    batch = takeReading(addPortion(batch, decision.dose.doseMl, decision.dose.relativeSd), last, PEN, true).batch;
  }
  return judge(aim, s, truth, last - baseReading, 3, everPast);
}

function naive(s: Setup): Outcome {
  const aim = feedAim(s.net);
  const baseReading = pen(s.base, s.random);
  let truth = 0;
  let last = baseReading;
  let everPast = false;
  let portions = 0;
  let given = 0;
  while (portions < 3 && last - baseReading < aim.lowEcUsCm) {
    const wanted =
      given === 0
        ? (s.net * s.volumeL) / LABEL
        : (given * (s.net - (last - baseReading))) / Math.max(10, last - baseReading);
    const dose = roundDownToTool(Math.max(wanted, 0.06), TOOLS);
    if (!dose) break;
    given += dose.doseMl;
    truth += (poured(dose.doseMl, s.random) * s.strength) / s.volumeL;
    everPast ||= truth > aim.hardEcUsCm;
    last = pen(s.base + truth, s.random);
    portions++;
  }
  return judge(aim, s, truth, last - baseReading, portions, everPast);
}

function judge(
  aim: ReturnType<typeof feedAim>,
  _s: Setup,
  truth: number,
  penNet: number,
  portions: number,
  pastHard: boolean,
): Outcome {
  return {
    inBandByPen: penNet >= aim.lowEcUsCm && penNet <= aim.highEcUsCm,
    inBandTruly: truth >= aim.lowEcUsCm && truth <= aim.highEcUsCm,
    pastHard,
    portions,
  };
}

function report(name: string, outcomes: Outcome[]): void {
  const share = (f: (o: Outcome) => boolean) => `${((100 * outcomes.filter(f).length) / outcomes.length).toFixed(1)} %`;
  console.log(
    `${name.padEnd(34)} in band by pen, ≤ 3 portions ${share((o) => o.inBandByPen)} · truly ${share((o) => o.inBandTruly)} · past hard limit ${share((o) => o.pastHard)} · median portions ${median(outcomes.map((o) => o.portions))}`,
  );
}

const cases = (run: (s: Setup) => Outcome) =>
  Array.from({ length: BATCHES }, (_, i) => run(setup(seededRandom(1000 + i))));
report(
  'coach',
  cases((s) => coached(s, true)),
);
report(
  'coach without looking ahead',
  cases((s) => coached(s, false)),
);
report('naive: label, then proportion', cases(naive));
console.log(`one decision: median ${median(decisionTimes).toFixed(3)} ms over ${decisionTimes.length} decisions`);
