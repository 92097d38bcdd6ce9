/** A collection in one of the worlds, with troubles planted in it, whose grower reads what a policy asks and acts on nothing but what was read. */
import {
  calibrate,
  knowAlone,
  liveInterval,
  READING_SD,
  scoresOf,
  type Alone,
  type FillSeen,
  type Foretold,
  type PotLog,
  type Score,
  type SeenInterval,
  type Widths,
} from '../src/core/drift/index.ts';
import { daysBetween, plusDays } from '../src/core/regimen/index.ts';
import { HOT_DAY_TIMES, PORES_PER_RESERVOIR } from '../src/core/reservoir/index.ts';
import {
  drawPot,
  fillWorld,
  reservoirOf,
  simEc,
  simPh,
  tipAndFlush,
  worldDay,
  type LivingPot,
  type PotWorld,
  type WorldMix,
} from '../src/core/simulation/index.ts';
import { normal, seededRandom, seedOf, Z90, type Random } from '../src/core/statistics/index.ts';
import {
  byOutcome,
  foreseenBy,
  READABLES,
  readStates,
  surprise,
  SURPRISE_SD,
  whatToRead,
  type AskedWhy,
  type Foreseen,
  type PotAsks,
  type PotToRead,
  type Readable,
  type ReadNow,
} from '../src/core/what-to-read/index.ts';
import { mixOf, RAIN, TAP, thoughtCurve, weatherOf, type Feed, type Water } from './pot-grower.ts';

export const TROUBLES = ['unleached', 'channelled', 'lively', 'double', 'rootless', 'acid'] as const;
export type Trouble = (typeof TROUBLES)[number];
export const POLICIES = ['asked', 'everything', 'nothing', 'every third', 'random', 'most doubtful'] as const;
export type Policy = (typeof POLICIES)[number];

export const FULL_ROUNDS = 4;
const POTS = 24;
const ROUNDS = 17;
const EVERY = 7;
const START = '2024-01-01';
/** The grower of the other policies reads as often as the first is asked, about. */
const SHARE = 0.43;
/** Past these something is done. */
const GATHERS = Math.log(1.6);
const WINDOW = { low: 5.2, high: 6.9 };
const STEP = 0.3;

export type Case = {
  readonly policy: Policy;
  readonly world: PotWorld;
  readonly what: Readable;
  readonly asRead: boolean;
  readonly troubled: boolean;
  readonly inside: boolean;
  readonly width: number;
};
export type Planted = { readonly trouble: Trouble; readonly pot: number; readonly from: number };
export type Outcome = {
  readonly policy: Policy;
  readonly world: PotWorld;
  readonly dips: number;
  readonly possible: number;
  /** Harm of each pot over all days after the full rounds. */
  readonly harm: number;
  /** Rounds at which something read of its pots spoke of each trouble. */
  readonly found: readonly (Planted & { readonly at: readonly number[] })[];
  readonly cases: readonly Case[];
  readonly whys: Readonly<Record<string, number>>;
};

type Grown = {
  readonly index: number;
  readonly id: string;
  readonly can: string;
  readonly fillMl: number;
  readonly netEc: number;
  readonly noise: Random;
  readonly lots: Record<Readable, number>;
  now: LivingPot;
  aimPh: number;
  stepsAfter: number;
  fills: FillSeen[];
  alone: Alone | undefined;
  reads: Record<Readable, number>;
};

type Shelf = {
  readonly world: PotWorld;
  readonly water: Water;
  readonly feed: Feed;
  readonly offsetPh: number;
  readonly drift: { readonly from: number; readonly perRound: number };
  readonly days: ReturnType<typeof weatherOf>;
  readonly planted: readonly Planted[];
  readonly pots: readonly Grown[];
};

function shelfOf(world: PotWorld, seed: number): Shelf {
  const random = seededRandom(seedOf(`read:${world}:${seed}`));
  const weather = [0.08, 0.18][seed % 2]!;
  const order = Array.from({ length: POTS }, (_, i) => i).sort(() => random() - 0.5);
  const planted = TROUBLES.map((trouble, i): Planted => ({
    trouble,
    pot: order[i]!,
    from: FULL_ROUNDS + 1 + Math.floor(8 * random()),
  }));
  return {
    world,
    water: seed % 3 === 1 ? TAP : RAIN,
    feed: { phosphate: 0.2 + 0.2 * random(), ammonium: 0.05 + (seed % 4 === 0 ? 0.2 : 0), thought: 0.25 },
    offsetPh: 0.07 * normal(random),
    drift: { from: FULL_ROUNDS + Math.floor(8 * random()), perRound: seed % 4 === 3 ? 0.05 : 0 },
    days: weatherOf(random, weather, ROUNDS * EVERY + 20),
    planted,
    pots: Array.from({ length: POTS }, (_, index): Grown => {
      const own = seededRandom(seedOf(`read:${world}:${seed}:${index}`));
      return {
        index,
        id: `p${index}`,
        can: `can ${index % 2}`,
        fillMl: 150 + 250 * own(),
        netEc: index % 2 === 0 ? 180 : 300,
        noise: own,
        lots: lotsOf(Math.floor(3 * own())),
        now: drawPot(world, own, weather),
        aimPh: 5.8,
        stepsAfter: 0,
        fills: [],
        alone: undefined,
        reads: { ppm: 0, ph: 0 },
      };
    }),
  };
}

/** A pot's two kinds of reading have their turns on different rounds. */
const lotsOf = (lot: number) => ({ ppm: lot, ph: lot + 1 });

/** Something goes wrong in a pot that nobody tells of. */
function plant(trouble: Trouble, living: LivingPot): LivingPot {
  if ('nature' in living.pot) {
    const { nature } = living.pot;
    const change = {
      unleached: { clayEcUsLDay: nature.clayEcUsLDay + 14 },
      channelled: { flushLeaves: 0.97, uptakeShare: Math.min(0.35, nature.uptakeShare) },
      lively: { alkalinityUeqDay: nature.alkalinityUeqDay + 45 },
      rootless: { drunkMlDay: 0.2 * nature.drunkMlDay, uptakeShare: 0.1 * nature.uptakeShare },
      acid: { alkalinityUeqDay: nature.alkalinityUeqDay - 45 },
      double: {},
    }[trouble];
    return { ...living, pot: { ...living.pot, nature: { ...nature, ...change } } } as LivingPot;
  }
  const { pot } = living as Extract<LivingPot, { pot: { layers: number } }>;
  const change = {
    unleached: {},
    channelled: { flush: { ...pot.flush, bypass: 0.97 }, through: 0.05, uptake: Math.min(0.3, pot.uptake) },
    lively: { clay: { ...pot.clay, meqL: Math.max(0.15, 6 * pot.clay.meqL), order: 0.15 } },
    rootless: { uptake: 0.1, loses: 0.6 * pot.loses, vapour: 0.9 },
    acid: { roots: -1.2, uptake: Math.max(1, pot.uptake) },
    double: {},
  }[trouble];
  return { ...living, pot: { ...pot, ...change } } as LivingPot;
}

/** Clay that was never leached gives its salts for weeks. */
const GIVES_ROUNDS = 6;
function saltsCome(living: LivingPot): LivingPot {
  if ('nature' in living.pot) return living;
  const { pot, now } = living as Extract<LivingPot, { pot: { layers: number } }>;
  const bodies = now.bodies.map((body, i) => (i > pot.layers ? { ...body, ec: body.ec + 450 } : body));
  return { ...living, now: { ...now, bodies } } as LivingPot;
}

const standing = (living: LivingPot) => ({ ec: simEc(reservoirOf(living)), ph: simPh(reservoirOf(living)) });

/** What a day out of bounds costs: strength past twice the pour, and pH past its window, each by how far. */
function harmOf({ now, netEc }: Grown, baseEc: number): number {
  const { ec, ph } = standing(now);
  return (
    Math.max(0, Math.log(ec / (2 * (netEc + baseEc)))) / 0.5 + Math.max(0, ph - 7.1) / 0.5 + Math.max(0, 5 - ph) / 0.5
  );
}

/** Lives one collection under one policy. @param goesWrong false: its twin, in which nothing goes wrong, and which cries wolf by chance alone */
export function liveCollection(world: PotWorld, seed: number, policy: Policy, goesWrong = true): Outcome {
  const shelf = shelfOf(world, seed);
  const life: Life = {
    ...{ world, policy, shelf, goesWrong },
    drawn: seededRandom(seedOf(`policy:${world}:${seed}`)),
    told: shelf.days.flatMap((d, i) => (d.told ? [{ on: plusDays(START, i), times: HOT_DAY_TIMES }] : [])),
    found: new Map(shelf.planted.map((one) => [one, new Set()])),
    ...{ cases: [], whys: {}, scores: [], dips: 0, possible: 0 },
  };
  let harm = 0;
  for (let round = 0; round <= ROUNDS; round++) {
    if (goesWrong) goWrong(shelf, round);
    liveRound(life, round);
    for (let d = 0; d < EVERY; d++)
      for (const pot of shelf.pots) {
        pot.now = worldDay(pot.now, shelf.days[round * EVERY + d]!.thirst);
        if (round > FULL_ROUNDS) harm += harmOf(pot, shelf.water.sim.idealEcUsCm);
      }
  }
  const { dips, possible, cases, whys, found } = life;
  return {
    ...{ policy, world, dips, possible, harm, cases, whys },
    found: shelf.planted.map((one) => ({ ...one, at: [...found.get(one)!] })),
  };
}

type Life = {
  readonly world: PotWorld;
  readonly policy: Policy;
  readonly shelf: Shelf;
  readonly goesWrong: boolean;
  readonly drawn: Random;
  readonly told: PotLog['told'];
  readonly found: ReadonlyMap<Planted, Set<number>>;
  readonly cases: Case[];
  readonly whys: Record<string, number>;
  scores: readonly Score[];
  dips: number;
  possible: number;
};

function goWrong({ planted, pots }: Shelf, round: number): void {
  for (const { trouble, pot, from } of planted) {
    const grown = pots[pot]!;
    if (from === round && trouble !== 'double') grown.now = plant(trouble, grown.now);
    if (trouble === 'unleached' && round >= from && round < from + GIVES_ROUNDS) grown.now = saltsCome(grown.now);
  }
}

/** Of how many scores a grower's ranges are made. */
const SCORES = 500;

function liveRound(life: Life, round: number): void {
  const { shelf, scores } = life;
  const on = plusDays(START, round * EVERY);
  const views = shelf.pots.map((pot) => viewOf(pot, on, scores, shelf.water.sim.idealEcUsCm));
  const plan = askedBy(life.policy, views, round, life.drawn);
  const read: ReadNow[] = [];
  const fresh = views.flatMap((view, i) => visit(life, round, view, plan[i]!, read));
  life.scores = [...scores, ...fresh].slice(-SCORES);
}

/** What a pen would show of a pot, and how far off that would be what was foreseen. */
function penOn({ pot, foreseen, foretold, widths }: View, { offsetPh, drift }: Shelf, round: number) {
  const truth = standing(pot.now);
  const offset = offsetPh + Math.max(0, round - drift.from) * drift.perRound;
  const noise = { ec: normal(pot.noise), ph: normal(pot.noise), left: normal(pot.noise) };
  const left = pot.now.free * (1 + 0.05 * noise.left);
  const ec = 2 * Math.round(0.5 * truth.ec * (1 + 0.02 * noise.ec));
  const ph = Math.round((truth.ph + offset + 0.04 * noise.ph) * 10) / 10;
  const leftOff =
    foretold && widths ? ((left - foretold.left.middle) / (widths.left.above * foretold.left.half)) * Z90 : 0;
  const off = {
    left: leftOff,
    ppm: foreseen.ppm ? surprise(Math.log(ec), foreseen.ppm) : 0,
    ph: foreseen.ph ? surprise(ph, foreseen.ph) : 0,
  };
  return { truth, offset, left, ec, ph, off, wet: round > 0 && pot.now.free > 0.08 };
}

/** One pot is tipped out, read as far as it is asked, flushed and filled. @returns how its forecasts came true */
function visit(life: Life, round: number, view: View, plan: Asked, read: ReadNow[]): Score[] {
  const { policy, shelf, goesWrong } = life;
  const { pot } = view;
  const counted = round > FULL_ROUNDS;
  const pen = penOn(view, shelf, round);
  const asked = pen.wet ? askedNow(policy === 'asked' && counted, view, plan, read, pen.off) : NOT_ASKED;
  const ec = asked.ppm ? pen.ec : undefined;
  const ph = asked.ph ? pen.ph : undefined;
  if (counted && pen.wet) count(life, round, view, asked, pen);
  read.push(readNow(view, asked, pen.off, view.foreseen.ppm && pen.ec / Math.exp(view.foreseen.ppm.middle)));
  const said = whatItSays(pot, shelf, { ec, ph, off: pen.off });
  if (counted) noteFound(life, round, pot, said);
  if (said.out !== 0 && pot.stepsAfter >= 1)
    [pot.aimPh, pot.stepsAfter] = [Math.min(7, Math.max(4.6, pot.aimPh + STEP * said.out)), -1];
  pot.stepsAfter++;
  const double = goesWrong && shelf.planted.some((one) => isDouble(one, pot) && one.from === round);
  fill(pot, shelf, plusDays(START, round * EVERY), {
    flush: round === 0 ? 0 : said.strong ? 2 : 1,
    double,
    ...{ ec, ph, left: round === 0 ? undefined : pen.left, asked: asked.why },
  });
  return learn(pot, life.told);
}

const isDouble = (one: Planted, pot: Grown) => one.trouble === 'double' && `can ${one.pot % 2}` === pot.can;

/** What is done about what was read: a larger flush, a step of pH; and which troubles it speaks of. */
function whatItSays(
  { netEc }: Grown,
  { water }: Shelf,
  { ec, ph, off }: { ec: number | undefined; ph: number | undefined; off: Record<Readable | 'left', number> },
) {
  const [ppmOff, phOff] = [ec === undefined ? 0 : off.ppm, ph === undefined ? 0 : off.ph];
  const gathers = ec !== undefined && Math.log(ec / (netEc + water.sim.idealEcUsCm)) > GATHERS;
  const strong = gathers || ppmOff > SURPRISE_SD;
  const out: -1 | 0 | 1 = ph === undefined ? 0 : ph > WINDOW.high ? -1 : ph < WINDOW.low ? 1 : 0;
  const speaksOf: Record<Trouble, boolean> = {
    unleached: strong,
    channelled: strong,
    double: strong,
    lively: out === -1 || phOff > SURPRISE_SD,
    acid: out === 1 || phOff < -SURPRISE_SD,
    rootless: off.left > SURPRISE_SD || Math.abs(ppmOff) > SURPRISE_SD,
  };
  return { strong, out, speaksOf };
}

function noteFound({ shelf, found }: Life, round: number, pot: Grown, { speaksOf }: ReturnType<typeof whatItSays>) {
  for (const one of shelf.planted)
    if ((isDouble(one, pot) || one.pot === pot.index) && speaksOf[one.trouble] && one.from < round)
      found.get(one)!.add(round);
}

function count(life: Life, round: number, view: View, asked: Asked, pen: ReturnType<typeof penOn>): void {
  life.possible += READABLES.length;
  for (const what of READABLES) {
    if (asked[what]) life.dips++;
    const why = `${what} ${asked.why[what] ?? '–'}`;
    life.whys[why] = (life.whys[why] ?? 0) + 1;
  }
  life.cases.push(...casesOf(life, view, asked, round, pen));
}

function learn(pot: Grown, told: PotLog['told']): Score[] {
  const before = pot.alone?.intervals.length ?? 0;
  pot.alone = knowAlone(
    {
      poreMl: PORES_PER_RESERVOIR * pot.fillMl,
      thirst: new Array<number>(12).fill(1),
      told,
      fills: pot.fills,
      soaks: [],
      fresh: false,
    },
    pot.alone?.followed,
  );
  const last = pot.alone?.intervals.at(-1);
  if (!last || pot.alone!.intervals.length === before) return [];
  if (last.cameOutEcUsCm !== undefined) pot.reads.ppm++;
  if (last.cameOutPh !== undefined) pot.reads.ph++;
  return scoresOf(pot.id, [last]);
}

/** What is known of a pot before it is tipped out. */
type View = {
  readonly pot: Grown;
  readonly foreseen: Record<Readable, Foreseen | undefined>;
  readonly toRead: PotToRead;
  readonly foretold: Foretold | undefined;
  readonly widths: Widths | undefined;
};

function viewOf(pot: Grown, on: string, scores: readonly Score[], baseEc: number): View {
  const { alone } = pot;
  const days = alone ? daysBetween(alone.filledOn, on) : 0;
  if (!alone || days <= 0)
    return { pot, foreseen: NONE, toRead: toRead(pot, NONE), foretold: undefined, widths: undefined };
  const { foretold } = liveInterval(alone.belief, {
    water: alone.water,
    days,
    season: alone.season,
    leftMl: undefined,
    cameOutEcUsCm: undefined,
    cameOutPh: undefined,
  });
  const own = scores.filter(({ potId }) => potId === pot.id);
  const others = scores.filter(({ potId }) => potId !== pot.id);
  const widths = calibrate({ own, others }, alone.kinds);
  const foreseen = { ppm: foreseenBy(foretold, widths, 'ppm'), ph: foreseenBy(foretold, widths, 'ph') };
  const then = (interval: SeenInterval) => {
    const was = (score: Score) => score.on < interval.endedOn;
    return calibrate({ own: own.filter(was), others: others.filter(was) }, interval.kinds);
  };
  const pour = pot.netEc + baseEc;
  return {
    pot,
    foreseen,
    foretold,
    widths,
    toRead: {
      ...toRead(pot, foreseen),
      states: readStates(alone.intervals, pot.reads, then, {
        foreseen,
        limits: { ppm: [Math.log(pour) + GATHERS], ph: [WINDOW.low, WINDOW.high] },
      }),
    },
  };
}
const NONE = { ppm: undefined, ph: undefined };
const toRead = (pot: Grown, foreseen: View['foreseen']): PotToRead => ({
  id: pot.id,
  lots: pot.lots,
  can: pot.can,
  never: [],
  states: Object.fromEntries(
    READABLES.map((what) => [
      what,
      {
        everRead: 0,
        readInClay: 0,
        visits: 0,
        unread: Infinity,
        sinceSurprise: undefined,
        lastOff: undefined,
        foreseen: foreseen[what],
        limits: [],
      },
    ]),
  ) as unknown as PotToRead['states'],
});

type Asked = { readonly ppm: boolean; readonly ph: boolean; readonly why: Record<Readable, AskedWhy | null> };
const NO_WHY = { ppm: null, ph: null };

function askedBy(policy: Policy, views: readonly View[], round: number, random: Random): Asked[] {
  const all = (): Asked[] => views.map(() => ({ ppm: true, ph: true, why: NO_WHY }));
  if (round <= FULL_ROUNDS || policy === 'everything') return all();
  if (policy === 'nothing') return views.map(() => ({ ppm: false, ph: false, why: NO_WHY }));
  if (policy === 'every third')
    return views.map(({ pot }) => ({
      ppm: (round + pot.lots.ppm) % 3 === 0,
      ph: (round + pot.lots.ph) % 3 === 0,
      why: NO_WHY,
    }));
  if (policy === 'random') return views.map(() => ({ ppm: random() < SHARE, ph: random() < SHARE, why: NO_WHY }));
  if (policy === 'most doubtful') {
    const each = views.flatMap(({ foreseen }, i) =>
      READABLES.map((what) => ({ i, what, doubt: (foreseen[what]?.sd ?? 9) / (what === 'ppm' ? 0.12 : 0.15) })),
    );
    const most = new Set(
      [...each]
        .sort((a, b) => b.doubt - a.doubt)
        .slice(0, Math.round(SHARE * each.length))
        .map(({ i, what }) => `${i} ${what}`),
    );
    return views.map((_, i) => ({ ppm: most.has(`${i} ppm`), ph: most.has(`${i} ph`), why: NO_WHY }));
  }
  return whatToRead(
    views.map(({ toRead: pot }) => pot),
    [],
  ).map(({ ppm, ph }) => ({
    ppm: ppm.asked !== null,
    ph: ph.asked !== null,
    why: { ppm: ppm.asked, ph: ph.asked },
  }));
}

/** What is read of a pot once its water is tipped out: asked before, or because of what was seen on this round. */
function askedNow(
  goesOn: boolean,
  view: View,
  plan: Asked,
  before: readonly ReadNow[],
  off: Record<Readable | 'left', number>,
): Asked {
  if (!goesOn) return plan;
  const pot = view.toRead;
  let asked = plan;
  // What one reading says may ask for the other.
  for (let again = 0; again < 2; again++) {
    const [{ ppm, ph }] = whatToRead([pot], [...before, readNow(view, asked, off)]) as [PotAsks];
    asked = { ppm: ppm.asked !== null, ph: ph.asked !== null, why: { ppm: ppm.asked, ph: ph.asked } };
  }
  return asked;
}
/** What of a pot was read so far. */
const readNow = ({ pot }: View, asked: Asked, off: Record<Readable | 'left', number>, ppmTimes?: number): ReadNow => ({
  potId: pot.id,
  can: pot.can,
  off: { left: off.left, ...(asked.ppm ? { ppm: off.ppm } : {}), ...(asked.ph ? { ph: off.ph } : {}) },
  ppmTimes,
});
const NOT_ASKED: Asked = { ppm: false, ph: false, why: NO_WHY };

function casesOf(
  { policy, world, shelf }: Life,
  { pot, foretold, widths }: View,
  asked: Asked,
  round: number,
  { truth, offset }: ReturnType<typeof penOn>,
): Case[] {
  if (!foretold || !widths) return [];
  const troubled = shelf.planted.some(
    (one) =>
      round > one.from &&
      (one.pot === pot.index ||
        (one.trouble === 'double' && `can ${one.pot % 2}` === pot.can && round <= one.from + 2)),
  );
  return READABLES.map((what): Case => {
    const key = what === 'ppm' ? 'ec' : 'ph';
    const { middle, half } = foretold[key];
    const { below, above } = widths[key];
    // As the pen would have it: what is foretold is a reading.
    const is = what === 'ppm' ? Math.log(truth.ec) : truth.ph + offset;
    return {
      policy,
      world,
      what,
      asRead: asked[what],
      troubled,
      inside: is >= middle - below * half && is <= middle + above * half,
      width: (below + above) * half,
    };
  });
}

type Filling = {
  readonly flush: number;
  readonly double: boolean;
  readonly ec: number | undefined;
  readonly ph: number | undefined;
  readonly left: number | undefined;
  readonly asked: Record<Readable, AskedWhy | null>;
};

function fill(
  pot: Grown,
  { water, feed, offsetPh }: Shelf,
  on: string,
  { flush, double, ec, ph, left, asked }: Filling,
): void {
  const { tipped } = tipAndFlush(pot.now, water.sim, flush);
  const netEc = pot.netEc * (1 + 0.04 * normal(pot.noise));
  const mix: WorldMix = mixOf(water, feed, netEc, pot.aimPh + 0.08 * normal(pot.noise));
  const poured = double
    ? {
        ...mix,
        idealEcUsCm: mix.idealEcUsCm + netEc,
        phosphateMmolL: 2 * mix.phosphateMmolL,
        ammoniumMmolL: 2 * mix.ammoniumMmolL,
      }
    : mix;
  // Nobody reads the can again: what is written down is what was meant.
  const readPh = Math.round((simPh(mix) + offsetPh) * 10) / 10;
  const curve = thoughtCurve(water, feed, pot.netEc, readPh);
  pot.fills = [
    ...pot.fills,
    {
      on,
      pouredMl: pot.fillMl,
      mix: {
        curve,
        standing: { strength: simEc(mix) / curve.ecUsCm, alkaliMeqL: 0, carbonMmolL: curve.carbonMmolL },
        phKnown: true,
      },
      flushed: flush > 0 ? [{ water: water.curve, ml: Math.round(flush * pot.fillMl) }] : [],
      toppedUp: false,
      leftMl: left === undefined ? undefined : Math.round((left * pot.fillMl) / 10) * 10,
      cameOutEcUsCm: ec,
      cameOutPh: ph,
      phSd: READING_SD.ph,
      runOffEcUsCm: undefined,
      ppmMeterId: 'p',
      phMeterId: 'h',
      byOutcome: READABLES.filter((what) => byOutcome(asked[what])).map((what) => (what === 'ppm' ? 'ec' : 'ph')),
    },
  ];
  pot.now = fillWorld(tipped, poured, 1 - tipped.free);
}
