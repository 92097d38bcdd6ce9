import type { Aim } from './aim.ts';
import {
  addPortion,
  batchStrength,
  learnedBelief,
  standingOf,
  startBatch,
  taintedPen,
  takeReading,
  thinBatch,
  type BatchBelief,
  type PenNoise,
} from './batch-belief.ts';
import { scaleBelief, type StrengthBelief } from './belief.ts';

/** What a part of a batch aims at: a net reading, coached by the pen; or so much of it in each litre, measured out. */
export type PartAim =
  { readonly by: 'pen'; readonly aim: Aim } | { readonly by: 'measure'; readonly unitsPerL: number };
/**
 * One product of a batch. `belief`: strength of the product itself, µS/cm for a unit (mL, or g of a solid) in a litre. `mlPerUnit`: mL of what
 * is in the dropper for one unit of it — 1 plain from the bottle, 10 thinned 1 in 10, 20 for a stock of 5 g in 100 mL.
 */
export type BenchPart = { readonly belief: StrengthBelief; readonly mlPerUnit: number; readonly aim: PartAim };
/** `volumeL` of water at the start; parts in the order in which they go in; none at all for plain water. */
export type BenchSetup = { readonly volumeL: number; readonly parts: readonly BenchPart[]; readonly pen: PenNoise };

/** How much less a reading is to be trusted because its pen was later found off: 1 SD, a share; absent where it was not. */
type Tainted = { readonly taintSd?: number };
/** Acts at the bench as the core sees them: EC in µS/cm, null where nothing usable was read. Doses are mL of what is in the dropper (thinned or not). */
export type BenchAct = Tainted & PlainAct;
type PlainAct =
  | { readonly kind: 'base'; readonly readingEcUsCm: number | null }
  | {
      readonly kind: 'portion';
      readonly part?: number;
      readonly doseMl: number;
      readonly relativeSd: number;
      readonly readingEcUsCm: number | null;
      readonly confirmedOdd: boolean;
      /** Given by recipe: nobody means to read it. */
      readonly byRecipe?: boolean;
      /** Said to be not measured: of a measured part that is an answer, by the pen it is asked for again. */
      readonly notMeasured?: boolean;
    }
  | { readonly kind: 'reading'; readonly readingEcUsCm: number | null; readonly confirmedOdd: boolean }
  /** The grower goes on from a part as it stands, read or not. */
  | { readonly kind: 'leave'; readonly part: number }
  | { readonly kind: 'thin'; readonly pourOffL: number; readonly addL: number; readonly readingEcUsCm: number | null }
  | { readonly kind: 'ph'; readonly ph: number | null }
  | { readonly kind: 'correction'; readonly steps: number; readonly ph: number | null };

/** How the batch stands after each act, for the table. */
export type BenchSnapshot = {
  readonly volumeL: number;
  /** The part the act belongs to, and mL of what is in its dropper that went in so far. */
  readonly part: number;
  readonly totalMl: number;
  readonly readingEcUsCm: number | null;
  /** Over the water. */
  readonly netEcUsCm: number | null;
  /** Strength of what is in the dropper by this reading: over what the pen read before the part began. */
  readonly ecPerMlL: number | null;
};

/** Where a part stands. `now`: being added; `inside`: by the pen; `measured`: all of it is in; `byRecipe`: given unread; `left`: as it was. */
export type PartState = 'waiting' | 'now' | 'inside' | 'measured' | 'byRecipe' | 'left';
export type PartStanding = {
  readonly state: PartState;
  /** mL of what is in the dropper that are in the batch. */
  readonly totalMl: number;
  readonly portionsUsed: number;
  /** Reading the part is counted over, µS/cm; undefined before its first portion. */
  readonly overEcUsCm: number | undefined;
  /** What it brought by the pen, µS/cm; undefined where it was not read by itself. */
  readonly netEcUsCm: number | undefined;
};

export type BenchSession = {
  /** Undefined until the water's own reading is taken. */
  readonly batch: BatchBelief | undefined;
  readonly baseEcUsCm: number | undefined;
  readonly volumeL: number;
  readonly parts: readonly PartStanding[];
  /** The part whose turn it is; as many as there are when every one is done. */
  readonly at: number;
  readonly portionsUsed: number;
  /** The last reading, and whether something went in (or water came) since. */
  readonly lastReadingEcUsCm: number | undefined;
  readonly awaitingReading: boolean;
  /** Something stands in the batch that nobody read, and nobody means to. */
  readonly unread: boolean;
  readonly strengthReached: boolean;
  readonly snapshots: readonly BenchSnapshot[];
  readonly corrections: number;
  readonly latestPh: number | undefined;
  /** pH moved by each step (drop, mark) of the last correction; undefined unless read before and after. */
  readonly phPerStep: number | undefined;
};

type Part = {
  totalMl: number;
  portionsUsed: number;
  over: number | undefined;
  net: number | undefined;
  left: boolean;
  byRecipe: boolean;
};

/** Of a measured dose, so much counts as all of it: a step of the tool may be missing. */
const ALL_OF_IT = 0.9;

/** A batch on its way through its acts. */
type Replay = {
  readonly setup: BenchSetup;
  readonly parts: Part[];
  batch: BatchBelief | undefined;
  volumeL: number;
  base: number | undefined;
  last: number | undefined;
  awaiting: boolean;
  unread: boolean;
  corrections: number;
  latestPh: number | undefined;
  phPerStep: number | undefined;
  /** Drops that were not read at once are judged by the next reading. */
  pending: { before: number; steps: number } | undefined;
  current: number;
};
type ActOf<K extends BenchAct['kind']> = Extract<BenchAct, { kind: K }>;

/** What each act does to the batch. @returns what the strength pen read with it, µS/cm, if anything */
const DOES: { readonly [K in BenchAct['kind']]: (to: Replay, act: ActOf<K>) => number | null } = {
  base: (to, { readingEcUsCm, taintSd = 0 }) => {
    if (readingEcUsCm === null) return null;
    const { parts, pen } = to.setup;
    to.base = readingEcUsCm;
    to.last = readingEcUsCm;
    to.batch = startBatch(
      parts.length > 0 ? parts.map((p) => scaleBelief(p.belief, 1 / p.mlPerUnit)) : PLAIN,
      to.volumeL,
      readingEcUsCm,
      taintedPen(pen, taintSd),
    );
    return readingEcUsCm;
  },
  portion: (to, act) => {
    const index = act.part ?? 0;
    const part = to.parts[index];
    if (!to.batch || !part) return null;
    to.current = index;
    part.over ??= standsAt(to);
    to.batch = addPortion(to.batch, act.doseMl, act.relativeSd, index);
    part.totalMl += act.doseMl;
    part.portionsUsed++;
    part.net = undefined;
    read(to, act.readingEcUsCm, act.confirmedOdd, act.taintSd);
    const measured = act.notMeasured && to.setup.parts[index]?.aim.by === 'measure';
    if (act.readingEcUsCm === null && (act.byRecipe || measured)) {
      part.byRecipe = act.byRecipe ?? false;
      to.awaiting = false;
      to.unread = true;
    }
    return act.readingEcUsCm;
  },
  reading: (to, act) => {
    read(to, act.readingEcUsCm, act.confirmedOdd, act.taintSd);
    return act.readingEcUsCm;
  },
  leave: (to, act) => {
    const part = to.parts[act.part];
    if (!part) return null;
    to.current = act.part;
    part.left = true;
    if (to.awaiting) to.unread = true;
    to.awaiting = false;
    return null;
  },
  thin: (to, act) => {
    if (!to.batch) return null;
    const staysL = to.batch.volumeL - act.pourOffL;
    const kept = staysL / to.batch.volumeL;
    const factor = staysL / (staysL + act.addL);
    const base = to.base ?? 0;
    for (const part of to.parts) {
      part.totalMl *= kept;
      if (part.over !== undefined) part.over = base + (part.over - base) * factor;
      if (part.net !== undefined) part.net *= factor;
    }
    to.batch = thinBatch(to.batch, act.addL, act.pourOffL);
    to.volumeL = to.batch.volumeL;
    read(to, act.readingEcUsCm, true, act.taintSd);
    return act.readingEcUsCm;
  },
  ph: (to, { ph }) => {
    if (ph === null) return null;
    if (to.pending) to.phPerStep = (ph - to.pending.before) / to.pending.steps;
    to.pending = undefined;
    to.latestPh = ph;
    return null;
  },
  correction: (to, { ph, steps }) => {
    const before = to.latestPh;
    to.corrections++;
    to.phPerStep = ph !== null && before !== undefined ? (ph - before) / steps : undefined;
    to.pending = ph === null && before !== undefined ? { before, steps } : undefined;
    to.latestPh = ph ?? undefined;
    return null;
  },
};

function read(to: Replay, readingEcUsCm: number | null, confirmedOdd: boolean, taintSd = 0): void {
  to.awaiting = readingEcUsCm === null;
  if (readingEcUsCm === null || !to.batch) return;
  to.unread = false;
  to.last = readingEcUsCm;
  const { parts, pen } = to.setup;
  const about = Math.min(to.current, Math.max(0, parts.length - 1));
  to.batch = takeReading(to.batch, readingEcUsCm, taintedPen(pen, taintSd), confirmedOdd, about).batch;
  const part = to.parts[to.current];
  if (part?.over !== undefined) part.net = readingEcUsCm - part.over;
}

/** What a part is counted over: the last reading, or what is thought where nobody read. */
function standsAt({ unread, awaiting, batch, last }: Replay): number | undefined {
  return unread || awaiting ? batch && standingOf(batch).readingEcUsCm : last;
}

function snapshotOf({ parts, current, volumeL, base }: Replay, readNow: number | null): BenchSnapshot {
  const { totalMl, over } = parts[current] ?? { totalMl: 0, over: undefined };
  return {
    volumeL,
    part: current,
    totalMl,
    readingEcUsCm: readNow,
    netEcUsCm: readNow !== null && base !== undefined ? Math.max(0, readNow - base) : null,
    ecPerMlL:
      readNow !== null && over !== undefined && totalMl > 0 ? (Math.max(0, readNow - over) * volumeL) / totalMl : null,
  };
}

/**
 * Replays a batch from its acts. The same acts always give the same state, so taking one back is replaying without it.
 * @param acts in the order they were done; a portion without `part` belongs to the first
 */
export function replayBench(setup: BenchSetup, acts: readonly BenchAct[]): BenchSession {
  const to: Replay = {
    setup,
    parts: setup.parts.map(() => ({
      totalMl: 0,
      portionsUsed: 0,
      over: undefined,
      net: undefined,
      left: false,
      byRecipe: false,
    })),
    batch: undefined,
    volumeL: setup.volumeL,
    base: undefined,
    last: undefined,
    awaiting: false,
    unread: false,
    corrections: 0,
    latestPh: undefined,
    phPerStep: undefined,
    pending: undefined,
    current: 0,
  };
  const snapshots = acts.map((act) => {
    const does = DOES[act.kind] as (to: Replay, act: BenchAct) => number | null;
    return snapshotOf(to, does(to, act));
  });
  return { ...partsStanding(to), ...sessionOf(to), snapshots };
}

function sessionOf(to: Replay): Omit<BenchSession, 'parts' | 'at' | 'strengthReached' | 'snapshots'> {
  return {
    batch: to.batch,
    baseEcUsCm: to.base,
    volumeL: to.volumeL,
    portionsUsed: to.parts.reduce((sum, part) => sum + part.portionsUsed, 0),
    lastReadingEcUsCm: to.last,
    awaitingReading: to.awaiting,
    unread: to.unread,
    corrections: to.corrections,
    latestPh: to.latestPh,
    phPerStep: to.phPerStep,
  };
}

/** How far each part is, and whose turn it is. */
function partsStanding(to: Replay): Pick<BenchSession, 'parts' | 'at' | 'strengthReached'> {
  const { parts, setup, awaiting, volumeL: volume, current, batch } = to;
  const done = parts.map((part, i) => doneAs(part, setup.parts[i]!, { awaiting, volume, last: i === current }));
  // What a later part follows is finished, however it was left.
  const started = parts.reduce((latest, part, i) => (part.portionsUsed > 0 || part.left ? i : latest), 0);
  const open = done.findIndex((state, i) => i >= started && state === undefined);
  const at = open === -1 ? parts.length : open;
  const stateOf = (i: number): PartState => done[i] ?? (i < at ? 'left' : i === at && batch ? 'now' : 'waiting');
  return {
    parts: parts.map(({ totalMl, portionsUsed, over, net }, i) => ({
      state: stateOf(i),
      totalMl,
      portionsUsed,
      overEcUsCm: over,
      netEcUsCm: net,
    })),
    at,
    strengthReached: batch !== undefined && !awaiting && at === parts.length,
  };
}

/** Plain water is a batch into which nothing goes. */
const PLAIN: StrengthBelief = Object.freeze({
  mean: [0, 0],
  covariance: [
    [0, 0],
    [0, 0],
  ],
});

function doneAs(
  part: Part,
  { aim, mlPerUnit }: BenchPart,
  now: { awaiting: boolean; volume: number; last: boolean },
): PartState | undefined {
  if (part.left) return 'left';
  if (part.portionsUsed === 0 || (now.last && now.awaiting)) return undefined;
  if (aim.by === 'measure')
    return part.totalMl >= ALL_OF_IT * aim.unitsPerL * now.volume * mlPerUnit ? 'measured' : undefined;
  if (part.byRecipe) return 'byRecipe';
  return part.net !== undefined && part.net >= aim.aim.lowEcUsCm && part.net <= aim.aim.highEcUsCm
    ? 'inside'
    : undefined;
}

/** What is known of a part's product (undiluted) after the batch; the old belief when nothing of it went in. */
export function learnedFrom(session: BenchSession, setup: BenchSetup, part = 0): StrengthBelief {
  const { belief, mlPerUnit } = setup.parts[part]!;
  return session.batch && (session.parts[part]?.portionsUsed ?? 0) > 0
    ? scaleBelief(learnedBelief(session.batch, part), mlPerUnit)
    : belief;
}

/** Strength of what is in a part's dropper, as it shows in this batch. */
export function sessionStrength(session: BenchSession, part = 0): { ecPerMlL: number; sd: number } | undefined {
  return session.batch && batchStrength(session.batch, part);
}
