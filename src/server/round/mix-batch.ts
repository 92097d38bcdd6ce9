import type { RoundMix } from '../../contract/round.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { daysBetween, litresWithSpare, localTimeOf, plusDays, serves } from '../../core/regimen/index.ts';
import type { Aim } from '../../core/strength/index.ts';
import {
  batchesSince,
  leftOf,
  MIX_KEEPS_DAYS,
  pourableMl,
  type BatchEntry,
  type Collection,
} from '../collection/index.ts';

/* What stands ready for a mix of the round, and how much is still to be made. A pot is filled from one batch: what is left of two is not one fill. */

/** Less of a mix of an earlier day is not worth pouring. */
const LEAST_WORTH_ML = 50;
/** Less than this of another feed is not worth carrying over. */
const LEAST_LEFT_ML = 100;

/** `mayMl`: what may be poured of it; of a mix of an earlier day no more than what is left by the arithmetic. */
type Standing = { readonly batch: BatchEntry; readonly leftMl: number; readonly mayMl: number };

/**
 * The batch that serves a mix, and the litres still to make for the pots that none reaches.
 * @param poursMl what each pot still to be done takes, in the order of the round
 */
export function batchAndLeft(
  collection: Collection,
  key: string,
  poursMl: readonly number[],
  today: string,
  ppm: (ec: number) => number,
): Pick<RoundMix, 'batch' | 'litresToMix'> {
  const fresh = batchesSince(collection.batches, plusDays(today, -MIX_KEEPS_DAYS)).filter(
    ({ row }) =>
      row.status !== 'abandoned' &&
      !row.emptied &&
      row.mixKey !== null &&
      serves(row.mixKey, key) &&
      daysBetween(row.startedOn, today) <= MIX_KEEPS_DAYS,
  );
  const open = fresh[0]?.row.status === 'open' ? { batch: fresh[0], leftMl: 0, mayMl: 0 } : undefined;
  const poured = fresh
    .filter(({ row }) => row.status === 'poured')
    .map((batch): Standing => {
      const leftMl = leftOf(batch, collection.drawn);
      // What is used up is used up, however the eye reads a jug.
      const byEye = batch.row.startedOn === today && leftMl > 0;
      return { batch, leftMl, mayMl: byEye ? pourableMl(batch.row, leftMl) : leftMl };
    })
    .filter(({ batch, leftMl }) => batch.row.startedOn === today || leftMl >= LEAST_WORTH_ML);
  const serving = open ?? servingOf(poured, poursMl, today);
  const unservedMl = open ? sumOf(poursMl) : unserved(poured, poursMl);
  return {
    litresToMix: unservedMl === 0 ? 0 : litresWithSpare(unservedMl),
    batch: serving ? toMixBatch(serving, today, collection.settings.zone, ppm) : null,
  };
}

const sumOf = (figures: readonly number[]) => figures.reduce((sum, ml) => sum + ml, 0);

/** The oldest that reaches a pot still to be done; else what was made today, for it is told. @param poured newest first */
function servingOf(poured: readonly Standing[], poursMl: readonly number[], today: string): Standing | undefined {
  const least = Math.min(...poursMl);
  const reaches = poured.filter((standing) => standing.leftMl > 0 && standing.mayMl >= least);
  return poursMl.length === 0 ? poured[0] : (reaches.at(-1) ?? poured.find((s) => s.batch.row.startedOn === today));
}

/** What the pots take that no batch reaches, one after the other, the oldest batch first, mL. */
function unserved(poured: readonly Standing[], poursMl: readonly number[]): number {
  const left = poured.map(({ leftMl, mayMl }) => ({ ml: leftMl, byEyeMl: mayMl - leftMl })).reverse();
  return sumOf(
    poursMl.filter((ml) => {
      const from = left.find((one) => one.ml > 0 && one.ml + one.byEyeMl >= ml);
      if (from) from.ml -= ml;
      return !from;
    }),
  );
}

function toMixBatch(
  { batch: { row }, leftMl, mayMl }: Standing,
  today: string,
  zone: string,
  ppm: (ec: number) => number,
): RoundMix['batch'] {
  return {
    id: row.id,
    status: row.status === 'open' ? 'open' : 'poured',
    startedAt: row.startedAt,
    time: localTimeOf(new Date(row.pouredAt ?? row.startedAt), zone),
    readsPpm: row.pouredEcUsCm === null ? null : ppm(row.pouredEcUsCm),
    ph: row.pouredPh,
    leftMl,
    pourableMl: mayMl,
    today: row.startedOn === today,
  };
}

/** The newest feed left over that reads in the mix's band over its water, is still good and reaches a pot; null where there is none. */
export function leftoverFor(
  collection: Collection,
  aim: Aim,
  poursMl: readonly number[],
  today: string,
  scale: number,
): RoundMix['leftover'] {
  const least = Math.max(LEAST_LEFT_ML, Math.min(...poursMl));
  const batches = batchesSince(collection.batches, plusDays(today, -MIX_KEEPS_DAYS)).filter(
    ({ row }) => row.status === 'poured' && row.use === 'feed' && !row.emptied && row.pouredEcUsCm !== null,
  );
  for (const batch of batches) {
    const net = batch.row.pouredEcUsCm! - (batch.baseEcUsCm ?? 0);
    const leftMl = net >= aim.lowEcUsCm && net <= aim.highEcUsCm ? leftOf(batch, collection.drawn) : 0;
    if (leftMl >= least)
      return { id: batch.row.id, name: batch.row.name, leftMl, readsPpm: ppmFromEc(batch.row.pouredEcUsCm!, scale) };
  }
  return null;
}
