/**
 * What is foretold of pots, in worlds that no prior was taken from: shelves of pots of each make, each visit forecast from what was known before it
 * and set against how the pot truly stood. By world and by what is special: share inside the 90 % range (with the 90 % interval of that share by
 * the number of forecasts), median width, mean error, and the same beside the best naive forecast (as last time; the pot's own mean).
 * `npx tsx bench/pots.ts [shelves] [pots]`
 */
import { mean, median } from 'simple-statistics';
import {
  advisePour,
  asMade,
  calibrate,
  courseOf,
  daysIn,
  earlyWider,
  filledPot,
  followedIntervals,
  knowAlone,
  NOT_WIDENED,
  playPot,
  READING_SD,
  restingAt,
  scoresOf,
  selfOf,
  standsAfter,
  strengthOf,
  type FollowedInterval,
  type Score,
} from '../src/core/drift/index.ts';
import {
  fillWorld,
  POT_WORLDS,
  reservoirOf,
  simPh,
  tipAndFlush,
  worldDay,
  type PotWorld,
} from '../src/core/simulation/index.ts';
import { spreadOf, Z90 } from '../src/core/statistics/index.ts';
import { liveShelf, type Kind, type Lived } from './pot-grower.ts';

type Told = { readonly low: number; readonly middle: number; readonly high: number };
type Case = {
  readonly world: PotWorld;
  readonly visit: number;
  readonly kinds: ReadonlySet<Kind>;
  readonly what: 'left' | 'ec' | 'ph';
  readonly truth: number;
  readonly told: Told;
  readonly naive: readonly number[];
};

const [shelves, pots] = [Number(process.argv[2] ?? 8), Number(process.argv[3] ?? 12)];
const VISITS = 14;
const RAW = process.argv.includes('raw');
const log = Math.log;

type Seen = FollowedInterval & { readonly visit: number; readonly pot: Lived };

/** A pot's visits as the app follows them: after a repotting anew. */
function seenOf(pot: Lived): Seen[] {
  const { log, repottedAt: at } = pot;
  const part = (from: number, to: number) =>
    followedIntervals({ ...log, fills: log.fills.slice(from, to), fresh: from > 0 }).map((interval, i) => ({
      ...interval,
      visit: from + i + 1,
      pot,
    }));
  return at > 0 ? [...part(0, at + 1), ...part(at, log.fills.length)] : part(0, log.fills.length);
}

/** A shelf round by round: what is foretold of each pot, scaled by how all that was read before came true. */
function casesOf(world: PotWorld, shelf: readonly Lived[]): Case[] {
  const found: Case[] = [];
  const past = new Map(shelf.map((pot) => [pot.id, { left: [] as number[], ec: [] as number[], ph: [] as number[] }]));
  const scores: Score[] = [];
  const rounds = shelf.flatMap(seenOf).sort((a, b) => (a.endedOn < b.endedOn ? -1 : a.endedOn > b.endedOn ? 1 : 0));
  let [day, waiting]: [string, Score[]] = ['', []];
  for (const seen of rounds) {
    const { visit, pot, foretold, kinds, filledMl } = seen;
    if (seen.endedOn !== day) {
      scores.push(...waiting);
      [day, waiting] = [seen.endedOn, []];
    }
    const truth = pot.truths[visit]!;
    const widths = RAW
      ? NOT_WIDENED
      : calibrate(
          { own: scores.filter((one) => one.potId === pot.id), others: scores.filter((one) => one.potId !== pot.id) },
          kinds,
        );
    const own = past.get(pot.id)!;
    const add = (what: Case['what'], of: number) => {
      const { middle, half } = foretold[what];
      const told = { low: middle - widths[what].below * half, middle, high: middle + widths[what].above * half };
      if (visit >= 3 && own[what].length > 0)
        found.push({
          world,
          visit,
          kinds: pot.kinds[visit]!,
          what,
          truth: of,
          told,
          naive: [own[what].at(-1)!, median(own[what])],
        });
    };
    add('left', truth.left);
    if (truth.left > 0.08) {
      add('ec', log(truth.ecUsCm));
      add('ph', truth.ph);
    }
    if (seen.leftMl !== undefined) own.left.push(seen.leftMl / filledMl);
    if (seen.cameOutEcUsCm) own.ec.push(log(seen.cameOutEcUsCm));
    if (seen.cameOutPh !== undefined) own.ph.push(seen.cameOutPh);
    waiting.push(...scoresOf(pot.id, [seen]));
  }
  return found;
}

/** A day after each filling whose pot was flushed: how far its strength lies from what was foretold, in halves of the range. */
function flushesOf(world: PotWorld, pot: Lived, scores: readonly Score[]): Flushed[] {
  return seenOf(pot).flatMap(({ visit, water, before, season, endedOn, kinds }): Flushed[] => {
    const fill = pot.log.fills[visit - 1]!;
    if (visit < 4 || fill.flushed.length === 0) return [];
    const course = courseOf(1);
    const ln = Array.from({ length: before.crowd.members }, (_, m) => {
      playPot(water, selfOf(before, water, season, m), course);
      return log(Math.max(1, course.ecUsCm[1]!));
    });
    const { mean: middle, sd } = spreadOf(ln);
    const earlier = scores.filter((one) => one.on < endedOn);
    const { below, above } = calibrate(
      {
        own: earlier.filter((one) => one.potId === pot.id),
        others: earlier.filter((one) => one.potId !== pot.id),
      },
      kinds.filter((kind) => kind !== 'overdue' && kind !== 'hot'),
    ).ec;
    const half = earlyWider(1) * Z90 * Math.hypot(sd, READING_SD.share);
    const truth = log(pot.truths[visit - 1]!.nextDay.ecUsCm);
    return [
      {
        world,
        tap: pot.kinds[0]!.has('tap'),
        truth,
        told: { low: middle - below * half, middle, high: middle + above * half },
      },
    ];
  });
}
type Flushed = { readonly world: PotWorld; readonly tap: boolean; readonly truth: number; readonly told: Told };

const DAYS_AHEAD = 10;
const WINDOW = { low: 5.5, high: 6.5 };
type Poured = { readonly world: PotWorld; readonly advised: number; readonly at58: number; readonly best: number };

/** The filling that comes, truly lived as advised, at 5.8, and at whatever would have been best. */
function pouredOf(world: PotWorld, pot: Lived): Poured[] {
  const { log: all, repottedAt: at } = pot;
  const known = knowAlone(at > 0 ? { ...all, fills: all.fills.slice(at), fresh: true } : all);
  if (!known || known.belief.seen.alkali < 4) return [];
  const { belief, water } = known;
  const { old, ecUsCm, ph } = standsAfter(belief, water, 1, pot.wait);
  const curve = pot.thoughtAt(5.8);
  const flushed = pot.flush > 0 ? [{ water: pot.flushCurve, ml: pot.flush * water.reservoirMl }] : [];
  const pores = { curve: water.curve, standing: restingAt(water.curve, strengthOf(water.curve, ecUsCm), ph) };
  const next = filledPot(
    { pouredMl: water.reservoirMl, mix: { curve, standing: asMade(curve) }, flushed },
    { pores, old, fresh: false },
    water.poreMl,
    known.efficiency.mean,
    belief,
  );
  const toPour = { id: '', water: next, belief, season: 1, days: DAYS_AHEAD, window: WINDOW };
  const { pourPh } = advisePour([toPour], 'steady')!;
  const truly = (pour: number) => {
    const { tipped } = tipAndFlush(pot.now, pot.flushWater, pot.flush);
    let now = fillWorld(tipped, pot.mixAt(pour), 1 - tipped.free);
    const course = [simPh(reservoirOf(now))];
    for (let day = 0; day < DAYS_AHEAD; day++) course.push(simPh(reservoirOf((now = worldDay(now, 1)))));
    return daysIn(course, WINDOW).inside;
  };
  const best = Math.max(...[4.5, 4.8, 5.1, 5.4, 5.8, 6.1, 6.4, 6.7, 7].map(truly));
  return [{ world, advised: truly(pourPh), at58: truly(5.8), best }];
}

const from = performance.now();
const cases: Case[] = [];
const flushes: Flushed[] = [];
const pours: Poured[] = [];
for (const world of POT_WORLDS)
  for (let s = 0; s < shelves; s++) {
    const shelf = liveShelf(world, 100 + s, { pots, visits: VISITS });
    cases.push(...casesOf(world, shelf));
    const scores = shelf.flatMap((pot) => scoresOf(pot.id, seenOf(pot))).sort((a, b) => (a.on < b.on ? -1 : 1));
    for (const pot of shelf) {
      flushes.push(...flushesOf(world, pot, scores));
      pours.push(...pouredOf(world, pot));
    }
  }
console.log(`${cases.length} forecasts in ${Math.round(performance.now() - from)} ms`);

const KINDS: readonly (Kind | 'steady' | 'pens')[] = [
  'steady',
  'pens',
  'few',
  'overdue',
  'told',
  'untold',
  'changed',
  'repot',
  'kit',
  'ammonium',
  'tap',
];
const isSteady = ({ kinds }: Case) =>
  ['few', 'overdue', 'told', 'untold', 'changed', 'repot'].every((k) => !kinds.has(k as Kind));
function row(name: string, some: readonly Case[]): string {
  if (some.length < 30) return `${name.padEnd(22)} ${some.length} only`;
  const held = some.filter(({ told, truth }) => truth >= told.low && truth <= told.high).length / some.length;
  const width = median(some.map(({ told }) => told.high - told.low));
  const errors = some.map(({ told, truth }) => Math.abs(told.middle - truth));
  const naive = Math.min(...[0, 1].map((n) => mean(some.map((c) => Math.abs(c.naive[n]! - c.truth)))));
  const within = 1.645 * Math.sqrt((held * (1 - held)) / some.length);
  return `${name.padEnd(22)} ${String(some.length).padStart(6)}  held ${(100 * held).toFixed(0).padStart(3)} ± ${(100 * within).toFixed(0)} %  width ${width.toFixed(3)}  error ${mean(errors).toFixed(3)} (median ${median(errors).toFixed(3)})  of naive ${(mean(errors) / naive).toFixed(2)}`;
}

for (const what of ['left', 'ec', 'ph'] as const) {
  console.log(`\n== ${what === 'left' ? 'water, share of the fill' : what === 'ec' ? 'strength, ln' : 'pH'}`);
  const of = cases.filter((c) => c.what === what);
  for (const world of [...POT_WORLDS, 'all'] as const) {
    const here = world === 'all' ? of : of.filter((c) => c.world === world);
    console.log(
      row(
        `${world}, from the 6th`,
        here.filter((c) => c.visit >= 6),
      ),
    );
    for (const kind of KINDS) {
      const slice = here.filter(
        (c) =>
          (kind === 'steady'
            ? isSteady(c)
            : kind === 'pens'
              ? isSteady(c) && !c.kinds.has('kit')
              : c.kinds.has(kind)) &&
          (kind === 'few' || c.visit >= 6),
      );
      if (world === 'all' || process.argv.includes('slices')) console.log(row(`   ${kind}`, slice));
    }
  }
}

console.log('\n== strength a day after a flush, ln');
for (const world of [...POT_WORLDS, 'still', 'tap'] as const) {
  const some = flushes.filter((f) => (world === 'still' ? !f.tap : world === 'tap' ? f.tap : f.world === world));
  const held = some.filter(({ truth, told }) => truth >= told.low && truth <= told.high).length / some.length;
  console.log(
    `${world.padEnd(10)} ${some.length}  held ${(100 * held).toFixed(0)} %  width ${median(some.map(({ told }) => told.high - told.low)).toFixed(3)}  error ${mean(some.map(({ truth, told }) => Math.abs(truth - told.middle))).toFixed(3)}`,
  );
}

console.log(`\n== days of ${DAYS_AHEAD} inside, poured as advised against always 5.8`);
for (const world of [...POT_WORLDS, 'all'] as const) {
  const some = pours.filter((p) => world === 'all' || p.world === world);
  const can = some.filter((p) => p.best >= p.at58 + 1);
  const share = (of: readonly Poured[], is: (p: Poured) => boolean) =>
    (100 * of.filter(is).length) / Math.max(1, of.length);
  const gained = can.reduce((sum, p) => sum + p.advised - p.at58, 0) / can.reduce((sum, p) => sum + p.best - p.at58, 0);
  console.log(
    `${world.padEnd(10)} ${some.length} pots  not worse ${share(some, (p) => p.advised >= p.at58 - 0.25).toFixed(0)} %; of ${can.length} where a day can be gained better ${share(can, (p) => p.advised > p.at58 + 0.25).toFixed(0)} %, with ${(100 * gained).toFixed(0)} % of the possible days`,
  );
}
