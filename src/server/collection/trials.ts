import { TREATMENT_WORDS } from '../../contract/kinds.ts';
import { inSentence } from '../../core/quantity/index.ts';
import { trialChange, type TrialChange } from '../../contract/trials.ts';
import type { TrialRow } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import type { Collection } from './collection.ts';

/** The change in a few words: a regimen's name ends with them. */
export function changeWords(change: TrialChange, { regimens }: Pick<Collection, 'regimens'>): string {
  switch (change.kind) {
    case 'flushWith':
      return change.with === 'still' ? 'flushed with still water' : 'flushed with any water';
    case 'strength':
      return change.share === 0.5
        ? 'half as strong'
        : change.share === 2
          ? 'twice as strong'
          : `${Math.round(100 * change.share)} % of the strength`;
    case 'days':
      return change.times === 2
        ? 'half as often'
        : change.times === 0.5
          ? 'twice as often'
          : `${change.times} times as far apart`;
    case 'flush':
      return change.timesReservoir === 0 ? 'not flushed' : `flushed ${change.timesReservoir} × the reservoir`;
    case 'pourPh':
      return `poured ${Math.abs(change.by)} pH ${change.by < 0 ? 'lower' : 'higher'}`;
    case 'regimen':
      return `on ${regimens.get(change.regimenId)?.name ?? 'another regimen'}`;
    case 'treatment':
      return inSentence(TREATMENT_WORDS[change.treatment]);
    case 'own':
      return change.words;
  }
}
/** What the other arm is called. */
export const AS_IT_WAS = 'as it was';

/** What a trial changes; undefined where the record cannot be understood. */
export const changeOf = ({ change }: Pick<TrialRow, 'change'>): TrialChange | undefined =>
  readJson(trialChange, change);

/** The trial a pot is in now, and its arm. */
export function runningTrial(
  { trials, trialPots }: Pick<Collection, 'trials' | 'trialPots'>,
  potId: string,
): { readonly trial: TrialRow; readonly arm: 0 | 1 } | undefined {
  for (const { trialId, arm, leftOn, potId: of } of trialPots) {
    if (of !== potId || leftOn !== null) continue;
    const trial = trials.find(({ id, endedOn }) => id === trialId && endedOn === null);
    if (trial) return { trial, arm };
  }
  return undefined;
}

/** What a pot gets in the trial it is in, in words; null where it is in none. */
export function trialWords(
  collection: Pick<Collection, 'trials' | 'trialPots' | 'regimens'>,
  potId: string,
): string | null {
  const running = runningTrial(collection, potId);
  const change = running && changeOf(running.trial);
  if (!change) return null;
  return `Trial: ${running.arm === 0 ? changeWords(change, collection) : AS_IT_WAS}`;
}
