/**
 * What is foretold of pots, in worlds that no prior was taken from: shelves of pots of each make, each visit forecast from what was known before it
 * and set against how the pot truly stood. By world and by what is special: share inside the 90 % range (with the 90 % interval of that share by
 * the number of forecasts), median width, mean error, and the same beside the best naive forecast (as last time; the pot's own mean).
 * `npx tsx bench/pots.ts [shelves] [pots]`
 */
import { mean, median } from 'simple-statistics';
import {
  calibrate,
  followedIntervals,
  NOT_WIDENED,
  scoresOf,
  type FollowedInterval,
  type Score,
} from '../src/core/drift/index.ts';
import { POT_WORLDS, type PotWorld } from '../src/core/simulation/index.ts';
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

const from = performance.now();
const cases = POT_WORLDS.flatMap((world) =>
  Array.from({ length: shelves }, (_, s) => liveShelf(world, 100 + s, { pots, visits: VISITS })).flatMap((shelf) =>
    casesOf(world, shelf),
  ),
);
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
