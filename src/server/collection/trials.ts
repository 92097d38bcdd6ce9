import { TREATMENT_WORDS } from '../../contract/kinds.ts';
import { inSentence } from '../../core/quantity/index.ts';
import { trialChange, type TrialChange } from '../../contract/trials.ts';
import type { TrialRow } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import type { Collection } from './collection.ts';

type Of<K extends TrialChange['kind']> = Extract<TrialChange, { kind: K }>;
type Regimens = Pick<Collection, 'regimens'>;

const WORDS: { readonly [K in TrialChange['kind']]: (change: Of<K>, collection: Regimens) => string } = {
  flushWith: ({ with: water }) => (water === 'still' ? 'flushed with still water' : 'flushed with any water'),
  strength: ({ share }) =>
    ({ 0.5: 'half as strong', 2: 'twice as strong' })[share] ?? `${Math.round(100 * share)} % of the strength`,
  days: ({ times }) => ({ 2: 'half as often', 0.5: 'twice as often' })[times] ?? `${times} times as far apart`,
  flush: ({ timesReservoir: times }) => (times === 0 ? 'not flushed' : `flushed ${times} × the reservoir`),
  pourPh: ({ by }) => `poured ${Math.abs(by)} pH ${by < 0 ? 'lower' : 'higher'}`,
  regimen: ({ regimenId }, { regimens }) => `on ${regimens.get(regimenId)?.name ?? 'another regimen'}`,
  treatment: ({ treatment }) => inSentence(TREATMENT_WORDS[treatment]),
  own: ({ words }) => words,
};

/** The change in a few words: a regimen's name ends with them. */
export function changeWords<K extends TrialChange['kind']>(change: Of<K>, collection: Regimens): string {
  return WORDS[change.kind](change, collection);
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
