import type { AllSettings } from '../../contract/shell.ts';
import type {
  WorkTime,
  AdviceAnswer,
  AwayRow,
  Bottle,
  PenAnswer,
  Place,
  RegimenRow,
  SeasonRow,
  Treatment,
  TrialPotRow,
  TrialRow,
} from '../database/entities.ts';
import { plusDays } from '../../core/regimen/index.ts';
import type { BatchEntry, ProductEntry } from './batches.ts';
import { leftMlOf } from './left.ts';
import { memo } from './memo.ts';
import type { Meters } from './meters.ts';
import type { PotEntry } from './pots.ts';
import type { Tank } from './tanks.ts';
import type { WaterEntry } from './waters.ts';

/**
 * The collection as one commit left it: folded from the log and the records, never changed. An entry that a commit did not touch is the same object in the
 * next one, so that what was made of it stands.
 */
export type Collection = {
  /** Counts the folds of this server: the only name for "as of". */
  readonly commit: number;
  /** The last line of the log that is in it. */
  readonly seq: number;
  readonly settings: AllSettings;
  readonly places: ReadonlyMap<string, Place>;
  /** Kept and retired. */
  readonly pots: ReadonlyMap<string, PotEntry>;
  readonly regimens: ReadonlyMap<string, RegimenRow>;
  readonly waters: ReadonlyMap<string, WaterEntry>;
  readonly tanks: ReadonlyMap<string, Tank>;
  readonly products: ReadonlyMap<string, ProductEntry>;
  readonly bottles: ReadonlyMap<string, Bottle>;
  readonly meters: Meters;
  /** In the order they were started. */
  readonly batches: ReadonlyMap<string, BatchEntry>;
  /** Taken from each batch that is not used up, mL. */
  readonly drawn: ReadonlyMap<string, number>;
  /** Names of clay that was planted as it came, in small letters. */
  readonly unleached: readonly string[];
  readonly treatments: readonly Treatment[];
  /** Running and ended, the newest first; and the pots in them, by arm and pair. */
  readonly trials: readonly TrialRow[];
  readonly trialPots: readonly TrialPotRow[];
  readonly answers: ReadonlyMap<string, readonly AdviceAnswer[]>;
  readonly penAnswers: readonly PenAnswer[];
  /** What the plan that stands was made for; undefined where none does. */
  readonly season: SeasonRow | undefined;
  /** Days nobody is there, the first first. */
  readonly away: readonly AwayRow[];
  /** Still water made otherwise than usual: by water, litres by day. */
  readonly madeOn: ReadonlyMap<string, ReadonlyMap<string, number>>;
  readonly workTimes: readonly WorkTime[];
};

/** What is left of a poured batch, mL. */
export function leftOf({ row }: Pick<BatchEntry, 'row'>, drawn: ReadonlyMap<string, number>): number {
  return leftMlOf(row, drawn.get(row.id) ?? 0);
}

/** A pour may exceed what the arithmetic says is left by this share of the batch: jugs and buckets are read by eye. */
const POUR_GRACE = 0.05;

/** What may be poured of a batch that so much should be left of, mL. */
export const pourableMl = ({ pouredVolumeL }: Pick<BatchEntry['row'], 'pouredVolumeL'>, leftMl: number): number =>
  leftMl + POUR_GRACE * 1000 * (pouredVolumeL ?? 0);

/** A mix made ahead is offered for so many days; older leftovers are only listed at the bench. */
export const MIX_KEEPS_DAYS = 7;

/** Batches begun on a day or after it, newest first. */
export function batchesSince(batches: ReadonlyMap<string, BatchEntry>, day: string): BatchEntry[] {
  const found: BatchEntry[] = [];
  for (const batch of newestFirst(batches)) {
    // A day and a half: which day it was is the grower's, which instant is everybody's.
    if (batch.row.startedAt.slice(0, 10) < plusDays(day, -2)) break;
    if (batch.row.startedOn >= day) found.push(batch);
  }
  return found;
}

/** Every batch, newest first. */
export const newestFirst = memo((batches: ReadonlyMap<string, BatchEntry>): readonly BatchEntry[] =>
  [...batches.values()].reverse(),
);
