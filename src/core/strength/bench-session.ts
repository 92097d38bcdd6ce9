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

/**
 * Replays a batch from its acts. The same acts always give the same state, so taking one back is replaying without it.
 * @param acts in the order they were done; a portion without `part` belongs to the first
 */
export function replayBench({ volumeL, parts, pen }: BenchSetup, acts: readonly BenchAct[]): BenchSession {
  let batch: BatchBelief | undefined;
  let volume = volumeL;
  let base: number | undefined;
  let last: number | undefined;
  let awaiting = false;
  let unread = false;
  let corrections = 0;
  let latestPh: number | undefined;
  let phPerStep: number | undefined;
  let pending: { before: number; steps: number } | undefined;
  let current = 0;
  const states: Part[] = parts.map(() => ({
    totalMl: 0,
    portionsUsed: 0,
    over: undefined,
    net: undefined,
    left: false,
    byRecipe: false,
  }));
  const snapshots: BenchSnapshot[] = [];

  const read = (readingEcUsCm: number | null, confirmedOdd: boolean, taintSd = 0) => {
    awaiting = readingEcUsCm === null;
    if (readingEcUsCm === null || !batch) return;
    unread = false;
    last = readingEcUsCm;
    batch = takeReading(
      batch,
      readingEcUsCm,
      taintedPen(pen, taintSd),
      confirmedOdd,
      Math.min(current, Math.max(0, parts.length - 1)),
    ).batch;
    const part = states[current];
    if (part?.over !== undefined) part.net = readingEcUsCm - part.over;
  };
  /** What the part is counted over: the last reading, or what is thought where nobody read. */
  const standsAt = () => (unread || awaiting ? batch && standingOf(batch).readingEcUsCm : last);

  for (const act of acts) {
    let readNow: number | null = null;
    switch (act.kind) {
      case 'base':
        if (act.readingEcUsCm === null) break;
        base = act.readingEcUsCm;
        last = act.readingEcUsCm;
        readNow = act.readingEcUsCm;
        batch = startBatch(
          parts.length > 0 ? parts.map((p) => scaleBelief(p.belief, 1 / p.mlPerUnit)) : PLAIN,
          volume,
          act.readingEcUsCm,
          taintedPen(pen, act.taintSd ?? 0),
        );
        break;
      case 'portion': {
        const index = act.part ?? 0;
        const part = states[index];
        if (!batch || !part) break;
        current = index;
        part.over ??= standsAt();
        batch = addPortion(batch, act.doseMl, act.relativeSd, index);
        part.totalMl += act.doseMl;
        part.portionsUsed++;
        part.net = undefined;
        readNow = act.readingEcUsCm;
        read(act.readingEcUsCm, act.confirmedOdd, act.taintSd);
        if (act.readingEcUsCm === null && (act.byRecipe || (act.notMeasured && parts[index]?.aim.by === 'measure'))) {
          part.byRecipe = act.byRecipe ?? false;
          awaiting = false;
          unread = true;
        }
        break;
      }
      case 'reading':
        readNow = act.readingEcUsCm;
        read(act.readingEcUsCm, act.confirmedOdd, act.taintSd);
        break;
      case 'leave': {
        const part = states[act.part];
        if (!part) break;
        current = act.part;
        part.left = true;
        if (awaiting) unread = true;
        awaiting = false;
        break;
      }
      case 'thin': {
        if (!batch) break;
        const kept = (batch.volumeL - act.pourOffL) / batch.volumeL;
        const factor = (batch.volumeL - act.pourOffL) / (batch.volumeL - act.pourOffL + act.addL);
        for (const part of states) {
          part.totalMl *= kept;
          if (part.over !== undefined) part.over = (base ?? 0) + (part.over - (base ?? 0)) * factor;
          if (part.net !== undefined) part.net *= factor;
        }
        batch = thinBatch(batch, act.addL, act.pourOffL);
        volume = batch.volumeL;
        readNow = act.readingEcUsCm;
        read(act.readingEcUsCm, true, act.taintSd);
        break;
      }
      case 'ph':
        if (act.ph === null) break;
        if (pending) phPerStep = (act.ph - pending.before) / pending.steps;
        pending = undefined;
        latestPh = act.ph;
        break;
      case 'correction':
        corrections++;
        phPerStep = act.ph !== null && latestPh !== undefined ? (act.ph - latestPh) / act.steps : undefined;
        // Drops that were not read at once are judged by the next reading.
        pending = act.ph === null && latestPh !== undefined ? { before: latestPh, steps: act.steps } : undefined;
        latestPh = act.ph ?? undefined;
        break;
    }
    const part = states[current];
    const over = part?.over;
    snapshots.push({
      volumeL: volume,
      part: current,
      totalMl: part?.totalMl ?? 0,
      readingEcUsCm: readNow,
      netEcUsCm: readNow !== null && base !== undefined ? Math.max(0, readNow - base) : null,
      ecPerMlL:
        readNow !== null && over !== undefined && part && part.totalMl > 0
          ? (Math.max(0, readNow - over) * volume) / part.totalMl
          : null,
    });
  }

  const done = states.map((part, i) => doneAs(part, parts[i]!, { awaiting, volume, last: i === current }));
  // What a later part follows is finished, however it was left.
  const started = states.reduce((latest, part, i) => (part.portionsUsed > 0 || part.left ? i : latest), 0);
  const open = done.findIndex((state, i) => i >= started && state === undefined);
  const at = open === -1 ? parts.length : open;
  return {
    batch,
    baseEcUsCm: base,
    volumeL: volume,
    parts: states.map((part, i) => ({
      state: done[i] ?? (i < at ? 'left' : i === at && batch ? 'now' : 'waiting'),
      totalMl: part.totalMl,
      portionsUsed: part.portionsUsed,
      overEcUsCm: part.over,
      netEcUsCm: part.net,
    })),
    at,
    portionsUsed: states.reduce((sum, part) => sum + part.portionsUsed, 0),
    lastReadingEcUsCm: last,
    awaitingReading: awaiting,
    unread,
    strengthReached: batch !== undefined && !awaiting && at === parts.length,
    snapshots,
    corrections,
    latestPh,
    phPerStep,
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
