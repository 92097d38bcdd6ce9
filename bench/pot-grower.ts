/** A grower with a shelf of pots from one of the worlds: what is done to them, what is written down, and how they truly stood. */
import { curveOf, READING_SD, type FillSeen, type PotLog, type TitrationCurve } from '../src/core/drift/index.ts';
import { plusDays } from '../src/core/regimen/index.ts';
import { HOT_DAY_TIMES, PORES_PER_RESERVOIR } from '../src/core/reservoir/index.ts';
import {
  drawPot,
  fillWorld,
  reservoirOf,
  repotted,
  simEc,
  simPh,
  tipAndFlush,
  worldDay,
  type PotWorld,
  type SimSolution,
  type WorldMix,
  type LivingPot,
} from '../src/core/simulation/index.ts';
import { anchoredAt, composition, type Composition } from '../src/core/solution/index.ts';
import { normal, seededRandom, seedOf, type Random } from '../src/core/statistics/index.ts';

/** What makes a forecast harder than most: each is a slice of its own. */
export type Kind = 'few' | 'overdue' | 'told' | 'untold' | 'changed' | 'repot' | 'kit' | 'ammonium' | 'tap';
export type Truth = {
  readonly left: number;
  readonly ecUsCm: number;
  readonly ph: number;
  /** A day after this filling. */
  readonly nextDay: { readonly ecUsCm: number; readonly ph: number };
};
export type Lived = {
  readonly id: string;
  readonly log: PotLog;
  /** Filling it was repotted at: another clay, and the log begins anew. */
  readonly repottedAt: number;
  /** Of each filling: how the old reservoir truly stood, and what is special. */
  readonly truths: readonly Truth[];
  readonly kinds: readonly ReadonlySet<Kind>[];
  /** As it stands at the visit after its last filling, days later; and how it would be filled then, at a pH. */
  readonly now: LivingPot;
  readonly wait: number;
  readonly flush: number;
  readonly flushWater: WorldMix;
  readonly mixAt: (ph: number) => WorldMix;
  readonly thoughtAt: (ph: number) => TitrationCurve;
  readonly flushCurve: TitrationCurve;
};

export type Water = { readonly sim: WorldMix; readonly made: Composition; readonly curve: TitrationCurve };
export const RAIN: Water = waterOf(
  { idealEcUsCm: 30, alkalinityMeqL: 0.05, carbonMmolL: 0.07, phosphateMmolL: 0, ammoniumMmolL: 0 },
  { Ca: 0.05, Na: 0.1, Cl: 0.1, NO3: 0.03, CO2: 0.07 },
);
export const TAP: Water = waterOf(
  { idealEcUsCm: 350, alkalinityMeqL: 2.2, carbonMmolL: 2.4, phosphateMmolL: 0, ammoniumMmolL: 0 },
  { Ca: 1.2, Mg: 0.3, Na: 0.6, Cl: 0.7, SO4: 0.35, CO2: 2.4 },
);

function waterOf(sim: WorldMix, made: Parameters<typeof composition>[0]): Water {
  const of = composition(made);
  return { sim, made: of, curve: curveOf(anchoredAt(of, simPh(sim))!) };
}

/** A feed as it truly is and as its label has it, for 200 µS/cm of it. */
export type Feed = { readonly phosphate: number; readonly ammonium: number; readonly thought: number };

export function mixOf(water: Water, feed: Feed, netEc: number, ph: number): WorldMix {
  const n = netEc / 200;
  const base = {
    ...water.sim,
    idealEcUsCm: water.sim.idealEcUsCm + netEc,
    phosphateMmolL: feed.phosphate * n,
    ammoniumMmolL: feed.ammonium * n,
  };
  let [low, high] = [-3, 4];
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2;
    if (simPh({ ...base, alkalinityMeqL: middle }) < ph) low = middle;
    else high = middle;
  }
  return { ...base, alkalinityMeqL: (low + high) / 2 };
}

const curves = new Map<string, TitrationCurve>();
/** What the grower's label and water make of the mix, put at the pH that was read. */
export function thoughtCurve(water: Water, feed: Feed, netEc: number, ph: number): TitrationCurve {
  const step = Math.round(netEc / 20) * 20;
  const key = `${water === TAP}:${feed.thought}:${feed.ammonium}:${step}:${ph.toFixed(1)}`;
  const known = curves.get(key);
  if (known) return known;
  const n = step / 200;
  const of = (key: keyof Composition) => water.made[key];
  const made = composition({
    ...water.made,
    Ca: of('Ca') + 0.2 * n,
    Mg: of('Mg') + 0.08 * n,
    K: of('K') + 0.9 * n,
    NH4: feed.ammonium * n,
    NO3: of('NO3') + (1.15 + feed.ammonium) * n,
    PO4: feed.thought * n,
    SO4: of('SO4') + 0.05 * n,
  });
  const curve = curveOf(anchoredAt(made, Math.min(8.5, Math.max(4, ph)))!);
  curves.set(key, curve);
  return curve;
}

export type ShelfOptions = { readonly pots: number; readonly visits: number };

/** A shelf of pots: one world, one place and its weather, one set of instruments, a feed or two. */
export function liveShelf(world: PotWorld, seed: number, { pots, visits }: ShelfOptions): Lived[] {
  const random = seededRandom(seedOf(`${world}:${seed}`));
  const weather = [0.08, 0.18, 0.28][Math.floor(3 * random())]!;
  // Every third shelf by a kit, every fourth in hard tap, two in five fed with ammonium, two in five by the fortnight.
  const kit = seed % 3 === 0;
  const tap = seed % 4 === 1;
  const every = seed % 5 < 3 ? 7 : 14;
  // Every sixth grower often leaves a round out.
  const skips = seed % 6 === 2 ? 0.3 : 0.07;
  const feed: Feed = {
    phosphate: 0.2 + 0.2 * random(),
    ammonium: seed % 5 === 1 || seed % 5 === 4 ? 0.1 + 0.4 * random() : 0.05,
    thought: 0.25,
  };
  const offsetPh = kit ? 0.1 * normal(random) : 0.07 * normal(random);
  const gainEc = 1 + 0.02 * normal(random);
  const days = weatherOf(random, weather, 2 * visits * every + 200);
  return Array.from({ length: pots }, (_, i) =>
    livePot(`${world}:${seed}:${i}`, drawPot(world, random, weather), {
      random: seededRandom(seedOf(`${world}:${seed}:${i}`)),
      visits,
      every,
      skips,
      kit,
      water: tap ? TAP : RAIN,
      feed,
      days,
      readPh: (ph, noise) =>
        kit
          ? Math.round((ph + offsetPh + 0.2 * normal(noise)) * 2) / 2
          : Math.round((ph + offsetPh + 0.04 * normal(noise)) * 10) / 10,
      readEc: (ec, noise) => 2 * Math.round(0.5 * ec * gainEc * (1 + 0.02 * normal(noise))),
    }),
  );
}

export type Day = { readonly thirst: number; readonly hot: boolean; readonly told: boolean };

/** Each day's thirst on a place: chance that lasts, and hot spells; half of those are told. */
export function weatherOf(random: Random, sd: number, length: number): Day[] {
  let [chance, spell, told] = [0, 0, false];
  return Array.from({ length }, () => {
    chance = 0.3 * chance + 0.95 * sd * normal(random);
    if (spell > 0) spell--;
    else if (random() < 0.015) [spell, told] = [3 + Math.floor(4 * random()), random() < 0.5];
    const hot = spell > 0;
    return { thirst: Math.exp(chance) * (hot ? 1.9 : 1), hot, told: hot && told };
  });
}

type Life = {
  readonly random: Random;
  readonly visits: number;
  readonly every: number;
  /** How often a round is left out. */
  readonly skips: number;
  readonly kit: boolean;
  readonly water: Water;
  readonly feed: Feed;
  readonly days: readonly Day[];
  readonly readPh: (ph: number, noise: Random) => number;
  readonly readEc: (ec: number, noise: Random) => number;
};

const START = '2024-01-01';
/** What the grower has decided for the pot, and since how many visits something is new. */
type Ways = { netEc: number; aimPh: number; flush: number; changed: number; repotted: number };

/** Once in its life a pot is poured, fed or flushed otherwise. */
function change(ways: Ways, random: Random): void {
  ways.changed = 2;
  const what = random();
  if (what < 0.4) ways.aimPh += random() < 0.5 ? -0.8 : 0.7;
  else if (what < 0.75) ways.netEc *= random() < 0.5 ? 0.55 : 1.8;
  else ways.flush = ways.flush > 1 ? 0 : 2.5;
}

/** What makes this visit harder to foretell than most. */
function specialOf(visit: number, wait: number, gone: readonly Day[], ways: Ways, life: Life): Set<Kind> {
  const heat = gone.filter((d) => d.hot);
  const hot = heat.length > 0.2 * wait;
  const untold = heat.some((d) => !d.told);
  const is: Record<Kind, boolean> = {
    few: visit < 6,
    overdue: wait > 1.5 * life.every,
    told: hot && !untold,
    untold: hot && untold,
    changed: ways.changed > 0,
    repot: ways.repotted > 0,
    kit: life.kit,
    ammonium: life.feed.ammonium > 0.1,
    tap: life.water === TAP,
  };
  return new Set((Object.keys(is) as Kind[]).filter((kind) => is[kind]));
}

/** Another mix of the same feed, and what is written down of it. */
function pourOf({ water, feed, random, readEc, readPh }: Life, { netEc, aimPh }: Ways) {
  const mix = mixOf(water, feed, netEc * (1 + 0.05 * normal(random)), aimPh + 0.08 * normal(random));
  const [ec, ph] = [readEc(simEc(mix), random), readPh(simPh(mix), random)];
  const curve = thoughtCurve(water, feed, netEc, ph);
  const standing = { strength: ec / curve.ecUsCm, alkaliMeqL: 0, carbonMmolL: curve.carbonMmolL };
  return { mix, seen: { curve, standing, phKnown: true } };
}

/** How the old reservoir reads; what is nearly dry is not read. */
function readingOf(truth: { left: number; ecUsCm: number; ph: number }, reservoirMl: number, life: Life) {
  const found = truth.left > 0.08;
  const left = reservoirMl * truth.left * (1 + 0.05 * normal(life.random));
  return {
    leftMl: Math.round(left / 10) * 10,
    cameOutEcUsCm: found ? life.readEc(truth.ecUsCm, life.random) : undefined,
    cameOutPh: found ? life.readPh(truth.ph, life.random) : undefined,
  };
}

function livePot(id: string, first: LivingPot, life: Life): Lived {
  const { random, every, kit, water } = life;
  const reservoirMl = 150 + 250 * random();
  const ways: Ways = {
    netEc: 150 + 300 * random(),
    aimPh: 5.6 + 0.6 * random(),
    flush: 0.5 + 2 * random(),
    changed: 0,
    repotted: 0,
  };
  const changesAt = 6 + Math.floor(6 * random());
  const repotsAt = random() < 0.25 ? 7 + Math.floor(5 * random()) : -1;
  let now = first;
  let [day, wait] = [0, 0];
  const fills: FillSeen[] = [];
  const truths: Truth[] = [];
  const kinds: Set<Kind>[] = [];
  for (let visit = 0; visit <= life.visits; visit++) {
    const truth = { left: now.free, ...standing(reservoirOf(now)) };
    kinds.push(specialOf(visit, wait, life.days.slice(day - wait, day), ways, life));
    ways.changed--;
    ways.repotted--;
    if (visit === changesAt) change(ways, random);
    const read = visit === 0 ? NOT_READ : readingOf(truth, reservoirMl, life);
    if (visit === repotsAt) {
      ways.repotted = 2;
      now = repotted(now, random);
    }
    const flush = visit === 0 || visit === repotsAt ? 0 : ways.flush;
    const { tipped } = tipAndFlush(now, water.sim, flush);
    const { mix, seen } = pourOf(life, ways);
    fills.push({
      on: plusDays(START, day),
      pouredMl: reservoirMl,
      mix: seen,
      flushed: flush > 0 ? [{ water: water.curve, ml: Math.round(flush * reservoirMl) }] : [],
      toppedUp: false,
      ...read,
      phSd: kit ? READING_SD.kitPh : READING_SD.ph,
      runOffEcUsCm: undefined,
      ppmMeterId: 'p',
      phMeterId: 'h',
    });
    now = fillWorld(tipped, mix, 1 - tipped.free);
    wait = Math.max(2, every + Math.round(normal(random)));
    if (random() < life.skips) wait *= 2 + Math.round(random());
    const nextDay = standing(reservoirOf(worldDay(now, life.days[day]!.thirst)));
    for (let d = 0; d < wait; d++) now = worldDay(now, life.days[day++]!.thirst);
    truths.push({ ...truth, nextDay });
  }
  const poreMl = PORES_PER_RESERVOIR * reservoirMl;
  const told = life.days.flatMap((d, i) => (d.told ? [{ on: plusDays(START, i), times: HOT_DAY_TIMES }] : []));
  const log = { poreMl, thirst: new Array<number>(12).fill(1), told, fills, soaks: [], fresh: false };
  return {
    id,
    log,
    repottedAt: Math.max(0, repotsAt),
    truths,
    kinds,
    now,
    wait,
    flush: ways.flush,
    flushWater: water.sim,
    mixAt: (ph) => mixOf(water, life.feed, ways.netEc, ph),
    thoughtAt: (ph) => thoughtCurve(water, life.feed, ways.netEc, ph),
    flushCurve: water.curve,
  };
}

const NOT_READ = { leftMl: undefined, cameOutEcUsCm: undefined, cameOutPh: undefined };
export const standing = (s: SimSolution) => ({ ecUsCm: simEc(s), ph: simPh(s) });
