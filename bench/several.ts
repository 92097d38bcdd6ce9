/**
 * Batches of one to three parts, soaks of a weighed stock among them, 0.25 to 10 L, on 1,000 simulated buckets: every part in its band by pen in at
 * most three portions of it, and past a hard limit; the naive way (scale the label, then in proportion) beside it. Errors, 1 SD: stock 30 %,
 * pipetting 5 %, pen 2 %; water's own reading up to 140 ppm. `npx tsx bench/several.ts [batches]`
 */
import { median } from 'simple-statistics';
import { normal, seededRandom, type Random } from '../src/core/statistics/random.ts';
import {
  adviseBench,
  bottleStrength,
  aimWithin,
  feedAim,
  planStock,
  priorBelief,
  replayBench,
  roundDownToTool,
  thinningRatio,
  tooFineForPen,
  USE_RULES,
  type Aim,
  type BenchAct,
  type BenchPart,
  type BenchSetup,
} from '../src/core/strength/index.ts';
import { PEN, TOOLS } from './bench-tools.ts';

const BATCHES = Number(process.argv[2] ?? 1000);
const LABELS = { calmag: 361, feed: 300, epsom: 897 } as const;
type Made = { setup: BenchSetup; truths: number[]; base: number; random: Random };

function draw(seed: number): Made {
  const random = seededRandom(9000 + seed);
  const volumeL = 0.25 * 40 ** random();
  const kinds = ([['feed'], ['calmag', 'feed'], ['calmag', 'feed', 'epsom'], ['epsom']] as const)[seed % 4]!;
  const base = 2 * 140 * random();
  let reads = base;
  const parts = kinds.map((kind): BenchPart => {
    const aim: Aim =
      kind === 'epsom'
        ? aimWithin(kinds.length > 1 ? 40 : 200, kinds.length > 1 ? USE_RULES.feed.band : USE_RULES.soak.band)
        : feedAim(kind === 'calmag' ? 100 : 150 + 300 * random());
    const stock = kind === 'epsom' ? planStock(LABELS.epsom, volumeL, aim, TOOLS, 0.1) : undefined;
    const mlPerUnit = stock
      ? stock.waterMl / stock.grams
      : kind === 'epsom'
        ? 20
        : thinningRatio(LABELS[kind], volumeL, aim, TOOLS);
    const belief = priorBelief(LABELS[kind]);
    reads += aim.netEcUsCm;
    // As the bench does: a pinch that the pen cannot tell is measured out.
    const { ecPerMlL, sd } = bottleStrength(belief);
    if (tooFineForPen(aim, reads, sd / ecPerMlL, PEN))
      return { belief, mlPerUnit, aim: { by: 'measure', unitsPerL: aim.netEcUsCm / ecPerMlL } };
    return { belief, mlPerUnit, aim: { by: 'pen', aim } };
  });
  return {
    setup: { volumeL, parts, pen: PEN },
    truths: kinds.map((kind) => LABELS[kind] * Math.max(0.15, 1 + 0.3 * normal(random))),
    base,
    random,
  };
}
const pen = (truth: number, random: Random) =>
  Math.max(0, 2 * Math.round((truth * (1 + PEN.relativeSd * normal(random))) / 2));
type Outcome = { inBand: boolean; withinThree: boolean; pastHard: boolean; portions: number };
const times: number[] = [];

function coached({ setup, truths, base, random }: Made): Outcome {
  const acts: BenchAct[] = [{ kind: 'base', readingEcUsCm: pen(base, random) }];
  const nets = truths.map(() => 0);
  let pastHard = false;
  for (let n = 0; n < 24; n++) {
    const session = replayBench(setup, acts);
    const from = performance.now();
    const advice = adviseBench(setup, session, () => TOOLS, 14);
    times.push(performance.now() - from);
    if (advice.kind === 'tooCoarse') acts.push({ kind: 'leave', part: advice.part });
    else if (advice.kind === 'add' || advice.kind === 'measure') {
      const { part, dose } = advice;
      nets[part]! +=
        (dose.doseMl * Math.max(0, 1 + 0.05 * normal(random)) * truths[part]!) /
        setup.parts[part]!.mlPerUnit /
        session.volumeL;
      const aim = setup.parts[part]!.aim;
      pastHard ||= aim.by === 'pen' && nets[part]! > aim.aim.hardEcUsCm;
      const readingEcUsCm = pen(base + nets.reduce((a, b) => a + b, 0), random);
      acts.push({
        kind: 'portion',
        part,
        doseMl: dose.doseMl,
        relativeSd: dose.relativeSd,
        readingEcUsCm,
        confirmedOdd: true,
      });
    } else if (advice.kind === 'thin') {
      const pourOffL = advice.plan.kind === 'pourOffAndReplace' ? advice.plan.pourOffL : 0;
      const kept = (session.volumeL - pourOffL) / (session.volumeL - pourOffL + advice.plan.addL);
      for (const i of nets.keys()) nets[i]! *= kept;
      acts.push({
        kind: 'thin',
        pourOffL,
        addL: advice.plan.addL,
        readingEcUsCm: pen(base + nets.reduce((a, b) => a + b, 0), random),
      });
    } else break;
  }
  const { parts } = replayBench(setup, acts);
  return {
    inBand: parts.every((p) => p.state === 'inside' || p.state === 'measured'),
    withinThree: parts.every((p) => (p.state === 'inside' && p.portionsUsed <= 3) || p.state === 'measured'),
    pastHard,
    portions: parts.reduce((sum, p) => sum + p.portionsUsed, 0),
  };
}

/** Each part: its label scaled to the litres, then in proportion to what it gave, at most three portions. Never thinned or made a stock of. */
function naive({ setup, truths, base, random }: Made): Outcome {
  let last = pen(base, random);
  let stands = base;
  let [inBand, pastHard, portions] = [true, false, 0];
  for (const [i, part] of setup.parts.entries()) {
    if (part.aim.by !== 'pen') continue;
    const { aim } = part.aim;
    const over = last;
    let given = 0;
    let net = 0;
    const label = part.belief.mean[0]!;
    for (let n = 0; n < 3 && last - over < aim.lowEcUsCm; n++) {
      const wanted =
        given === 0
          ? (aim.netEcUsCm * setup.volumeL) / label
          : (given * (aim.netEcUsCm - (last - over))) / Math.max(10, last - over);
      const dose = roundDownToTool(Math.max(wanted, 0.06), TOOLS);
      if (!dose) break;
      given += dose.doseMl;
      net += (dose.doseMl * Math.max(0, 1 + 0.05 * normal(random)) * truths[i]!) / setup.volumeL;
      pastHard ||= net > aim.hardEcUsCm;
      last = pen(stands + net, random);
      portions++;
    }
    stands += net;
    inBand &&= last - over >= aim.lowEcUsCm && last - over <= aim.highEcUsCm;
  }
  return { inBand, withinThree: inBand, pastHard, portions };
}

function report(name: string, outcomes: Outcome[]): void {
  const share = (f: (o: Outcome) => boolean) => `${((100 * outcomes.filter(f).length) / outcomes.length).toFixed(1)} %`;
  console.log(
    `${name.padEnd(10)} every part by pen in band in ≤ 3 portions ${share((o) => o.withinThree)} · in band at all ${share((o) => o.inBand)} · a part past its hard limit ${share((o) => o.pastHard)} · median portions ${median(outcomes.map((o) => o.portions))}`,
  );
}
for (const [i, what] of ['one feed', 'cal-mag, feed', 'cal-mag, feed, Epsom', 'Epsom soak', 'all'].entries()) {
  const seeds = Array.from({ length: BATCHES }, (_, n) => n).filter((n) => i === 4 || n % 4 === i);
  console.log(what);
  report(
    '  coach',
    seeds.map((seed) => coached(draw(seed))),
  );
  report(
    '  naive',
    seeds.map((seed) => naive(draw(seed))),
  );
}
console.log(`one piece of advice: median ${median(times).toFixed(2)} ms of ${times.length}`);
