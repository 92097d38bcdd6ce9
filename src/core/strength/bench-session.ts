import type { Aim } from './aim.ts';
import { addPortion, batchStrength, learnedBelief, startBatch, taintedPen, takeReading, thinBatch, type BatchBelief, type PenNoise } from './batch-belief.ts';
import { scaleBelief, type StrengthBelief } from './belief.ts';

/** How much less a reading is to be trusted because its pen was later found off: 1 SD, a share; absent where it was not. */
type Tainted = { readonly taintSd?: number };
/** Acts at the bench as the core sees them: EC in µS/cm, null where nothing usable was read. Doses are mL of what is in the dropper (thinned or not). */
export type BenchAct = Tainted & PlainAct;
type PlainAct =
  | { readonly kind: 'base'; readonly readingEcUsCm: number | null }
  | { readonly kind: 'portion'; readonly doseMl: number; readonly relativeSd: number; readonly readingEcUsCm: number | null; readonly confirmedOdd: boolean }
  | { readonly kind: 'reading'; readonly readingEcUsCm: number | null; readonly confirmedOdd: boolean }
  | { readonly kind: 'thin'; readonly pourOffL: number; readonly addL: number; readonly readingEcUsCm: number | null }
  | { readonly kind: 'ph'; readonly ph: number | null }
  | { readonly kind: 'correction'; readonly drops: number; readonly ph: number | null };

/** How the batch stands after each act, for the table. */
export type BenchSnapshot = {
  readonly volumeL: number;
  readonly totalMl: number;
  readonly readingEcUsCm: number | null;
  readonly netEcUsCm: number | null;
  readonly ecPerMlL: number | null;
};

export type BenchSession = {
  /** Undefined until the water's own reading is taken. */
  readonly batch: BatchBelief | undefined;
  readonly baseEcUsCm: number | undefined;
  readonly volumeL: number;
  readonly totalMl: number;
  readonly portionsUsed: number;
  /** The last reading, and whether something went in (or water came) since. */
  readonly lastReadingEcUsCm: number | undefined;
  readonly awaitingReading: boolean;
  readonly strengthReached: boolean;
  readonly snapshots: readonly BenchSnapshot[];
  readonly corrections: number;
  readonly latestPh: number | undefined;
  /** pH moved by each drop of the last correction; undefined unless read before and after. */
  readonly phPerDrop: number | undefined;
};

/** At most three pH corrections for one batch: each adds salts (common practice). */
export const MOST_CORRECTIONS = 3;

/**
 * Replays a batch from its acts. The same acts always give the same state, so taking one back is replaying without it.
 * @param bottle belief about the undiluted product before this batch
 * @param volumeL of water at the start, L
 * @param thinRatio parts altogether for one part of product in the dropper (1: plain from the bottle)
 */
export function replayBench(bottle: StrengthBelief, volumeL: number, thinRatio: number, aim: Aim, pen: PenNoise, acts: readonly BenchAct[]): BenchSession {
  let batch: BatchBelief | undefined;
  let volume = volumeL;
  let base: number | undefined;
  let last: number | undefined;
  let totalMl = 0;
  let portionsUsed = 0;
  let awaiting = false;
  let corrections = 0;
  let latestPh: number | undefined;
  let phPerDrop: number | undefined;
  let unread: { before: number; drops: number } | undefined;
  const snapshots: BenchSnapshot[] = [];

  const read = (readingEcUsCm: number | null, confirmedOdd: boolean, taintSd = 0) => {
    awaiting = readingEcUsCm === null;
    if (readingEcUsCm === null || !batch) return;
    last = readingEcUsCm;
    batch = takeReading(batch, readingEcUsCm, taintedPen(pen, taintSd), confirmedOdd).batch;
  };

  for (const act of acts) {
    let readNow: number | null = null;
    switch (act.kind) {
      case 'base':
        if (act.readingEcUsCm === null) break;
        base = act.readingEcUsCm;
        last = act.readingEcUsCm;
        readNow = act.readingEcUsCm;
        batch = startBatch(scaleBelief(bottle, 1 / thinRatio), volume, act.readingEcUsCm, taintedPen(pen, act.taintSd ?? 0));
        break;
      case 'portion':
        if (!batch) break;
        batch = addPortion(batch, act.doseMl, act.relativeSd);
        totalMl += act.doseMl;
        portionsUsed++;
        readNow = act.readingEcUsCm;
        read(act.readingEcUsCm, act.confirmedOdd, act.taintSd);
        break;
      case 'reading':
        readNow = act.readingEcUsCm;
        read(act.readingEcUsCm, act.confirmedOdd, act.taintSd);
        break;
      case 'thin':
        if (!batch) break;
        totalMl *= (batch.volumeL - act.pourOffL) / batch.volumeL;
        batch = thinBatch(batch, act.addL, act.pourOffL);
        volume = batch.volumeL;
        readNow = act.readingEcUsCm;
        read(act.readingEcUsCm, true, act.taintSd);
        break;
      case 'ph':
        if (act.ph === null) break;
        if (unread) phPerDrop = (act.ph - unread.before) / unread.drops;
        unread = undefined;
        latestPh = act.ph;
        break;
      case 'correction':
        corrections++;
        phPerDrop = act.ph !== null && latestPh !== undefined ? (act.ph - latestPh) / act.drops : undefined;
        // Drops that were not read at once are judged by the next reading.
        unread = act.ph === null && latestPh !== undefined ? { before: latestPh, drops: act.drops } : undefined;
        latestPh = act.ph ?? undefined;
        break;
    }
    const net = readNow !== null && base !== undefined ? Math.max(0, readNow - base) : null;
    snapshots.push({
      volumeL: volume,
      totalMl,
      readingEcUsCm: readNow,
      netEcUsCm: net,
      ecPerMlL: net !== null && totalMl > 0 ? (net * volume) / totalMl : null,
    });
  }

  const penNet = last !== undefined && base !== undefined ? last - base : undefined;
  const strengthReached = portionsUsed > 0 && !awaiting && penNet !== undefined && penNet >= aim.lowEcUsCm && penNet <= aim.highEcUsCm;
  return {
    batch,
    baseEcUsCm: base,
    volumeL: volume,
    totalMl,
    portionsUsed,
    lastReadingEcUsCm: last,
    awaitingReading: awaiting,
    strengthReached,
    snapshots,
    corrections,
    latestPh,
    phPerDrop,
  };
}

/** What is known of the product (undiluted) after the batch; the old belief when nothing was read. */
export function learnedFrom(session: BenchSession, thinRatio: number, before: StrengthBelief): StrengthBelief {
  return session.batch && session.portionsUsed > 0 ? scaleBelief(learnedBelief(session.batch), thinRatio) : before;
}

/** Strength of what is in the dropper, as it shows in this batch. */
export function sessionStrength(session: BenchSession): { ecPerMlL: number; sd: number } | undefined {
  return session.batch && batchStrength(session.batch);
}
