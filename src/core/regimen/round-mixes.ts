import type { LocalDate } from './due.ts';
import type { FeedDose, FeedWhat } from './regimen.ts';
import { flushMl, type Watering } from './watering.ts';

/** A pot that is to be filled on this round. Volumes in mL. */
export type PotToFill = {
  readonly potId: string;
  readonly dueOn: LocalDate;
  readonly fillMl: number;
  readonly reservoirMl: number;
  readonly watering: Watering;
};

/** One mix for all pots that take the same strength within the same pH. */
export type RoundMix = {
  readonly key: string;
  readonly what: FeedWhat;
  readonly fillWith: Watering['fillWith'];
  readonly netEcUsCm: number;
  readonly dose: FeedDose | null;
  readonly pourPhLow: number;
  readonly pourPhHigh: number;
  readonly potIds: readonly string[];
  readonly fillMl: number;
  /** To mix: the fills and the spare, rounded up to 0.1 L. */
  readonly litresToMix: number;
  readonly flushMl: number;
};

/** Spare for spills and a pot that takes more: a tenth, at least 0.1 L. House rule. */
export const SPARE_SHARE = 0.1;
export const LEAST_SPARE_ML = 100;

/** How each kind of mix is named in keys; the feed's name is older than the others and stands in every collection's batches. */
const KEY_NAMES: Record<FeedWhat, string> = {
  feed: 'constantDilute',
  calmag: 'calmag',
  feedSilicate: 'feedSilicate',
  plain: 'plain',
};
/** Between the keys of mixes that were made as one. */
const TOGETHER = ' & ';

/** Key of the mix a watering asks for: the same key means the same bucket. */
export function mixKey({
  what,
  netEcUsCm,
  dose,
  pourPhLow,
  pourPhHigh,
  fillWith,
}: Pick<Watering, 'what' | 'netEcUsCm' | 'dose' | 'pourPhLow' | 'pourPhHigh' | 'fillWith'>): string {
  return `${KEY_NAMES[what]}:${dose ? doseKey(dose) : Math.round(netEcUsCm)}:${pourPhLow}-${pourPhHigh}${fillWith === null ? '' : `:${fillWith}`}`;
}

const doseKey = (dose: FeedDose) =>
  dose.by === 'perL' ? `${Number(dose.units.toPrecision(3))}perL` : `label${Number(dose.share.toPrecision(3))}`;

/** Key of one bucket for several mixes. */
export function joinKeys(keys: readonly string[]): string {
  return keys.join(TOGETHER);
}

/** Does a bucket's key serve a mix's? */
export function serves(bucketKey: string | null, key: string): boolean {
  return bucketKey !== null && keysIn(bucketKey).includes(key);
}

/** Keys of the mixes one bucket serves. */
export function keysIn(bucketKey: string): string[] {
  return bucketKey.split(TOGETHER);
}

/**
 * Gathers the pots of a round into mixes, the one for most pots first.
 * @returns mixes with litres to make and flush water; none when nothing is due
 */
export function gatherMixes(pots: readonly PotToFill[]): RoundMix[] {
  const groups = groupByKey(pots);
  return [...groups.entries()]
    .map(([key, members]) => {
      const first = members[0]!.watering;
      const fillMl = sum(members.map((pot) => pot.fillMl));
      return {
        key,
        what: first.what,
        fillWith: first.fillWith,
        netEcUsCm: first.netEcUsCm,
        dose: first.dose,
        pourPhLow: first.pourPhLow,
        pourPhHigh: first.pourPhHigh,
        potIds: members.map((pot) => pot.potId),
        fillMl,
        litresToMix: litresWithSpare(fillMl),
        flushMl: sum(members.map((pot) => flushMl(pot.watering, pot.reservoirMl))),
      };
    })
    .sort((a, b) => b.potIds.length - a.potIds.length || a.netEcUsCm - b.netEcUsCm);
}

/** Litres to make so that `fillMl` can be poured with something to spare, rounded up to 0.1 L; 0 for nothing. */
export function litresWithSpare(fillMl: number): number {
  if (!(fillMl > 0)) return 0;
  const withSpare = fillMl + Math.max(LEAST_SPARE_ML, SPARE_SHARE * fillMl);
  return Math.ceil(withSpare / 100 - 1e-9) / 10;
}

function groupByKey(pots: readonly PotToFill[]): Map<string, PotToFill[]> {
  const groups = new Map<string, PotToFill[]>();
  for (const pot of pots) groups.set(mixKey(pot.watering), [...(groups.get(mixKey(pot.watering)) ?? []), pot]);
  return groups;
}
function sum(values: readonly number[]): number {
  return values.reduce((total, value) => total + value, 0);
}
