import {
  FEWEST_TRIAL_POTS,
  TRIAL_MEASURES,
  type TrialChange,
  type TrialMeasure,
  type TrialPlan,
  type TrialPlanAsked,
} from '../../../contract/trials.ts';
import { plusDays, regimenProblems, type Regimen } from '../../../core/regimen/index.ts';
import { seedOf } from '../../../core/statistics/index.ts';
import {
  matchedPairs,
  neededFor,
  outcomeOf,
  pairSpread,
  smallestShown,
  USUAL_SPREAD,
  usualEffect,
  withChange,
  type TrialPot,
} from '../../../core/trial/index.ts';
import { regimenDifferences } from '../../../core/turn/index.ts';
import {
  growersScale,
  readParams,
  runningTrial,
  type Collection,
  NO_PAST,
  type Past,
  type PotEntry,
} from '../../collection/index.ts';
import { followsOn, regimenChange, trialFigures } from './trial-figures.ts';

type Problem = TrialPlan['problems'][number];

/** Poured lower than this roots are hurt (common practice). */
const LOWEST_POUR = 4.5;

/** The pots that are asked for, in the order of their codes. */
export const potsIn = ({ pots }: Collection, ids: readonly string[]): PotEntry[] =>
  [...new Set(ids)].flatMap((id) => pots.get(id) ?? []).sort((a, b) => (a.pot.code < b.pot.code ? -1 : 1));

export const potShort = ({ pot, place }: PotEntry) => ({
  id: pot.id,
  code: pot.code,
  name: pot.name || pot.plant,
  place: place.name,
});

/** Pairs of the likest pots, each pair's first in the first arm by the lot. */
export function pairsOf(
  entries: readonly PotEntry[],
  past: Past,
  { measure, weeks }: Pick<TrialPlanAsked, 'measure' | 'weeks'>,
  today: string,
  seed: number,
) {
  const pots = entries.map(({ pot, place }): TrialPot => {
    const figures = trialFigures(past.get(pot.id) ?? NO_PAST, measure, pot.fillMl);
    const own = outcomeOf({ figures, fromOn: plusDays(today, -7 * weeks), untilOn: today }, weeks);
    return { id: pot.id, place: place.id, plant: pot.plant, fillMl: pot.fillMl, before: own?.during ?? null };
  });
  return matchedPairs(pots, seed);
}

/** What a trial of these pots could show, before it is begun. */
export function planOf(collection: Collection, past: Past, asked: TrialPlanAsked, today: string): TrialPlan {
  const entries = potsIn(collection, asked.potIds);
  const { pairs, left } = pairsOf(entries, past, asked, today, seedOf(asked.potIds.join()));
  const byId = new Map(entries.map((entry) => [entry.pot.id, potShort(entry)]));
  return {
    pairs: pairs.map((pair) => [...pair].sort().map((id) => byId.get(id)!) as TrialPlan['pairs'][number]),
    left: left.map((id) => byId.get(id)!),
    measures: TRIAL_MEASURES.map((measure) => {
      const own = pairSpread(
        entries.map(({ pot }) => trialFigures(past.get(pot.id) ?? NO_PAST, measure, pot.fillMl)),
        today,
        asked.weeks,
      );
      const sd = own ?? USUAL_SPREAD[measure];
      const smallest = smallestShown('pairs', pairs.length, sd);
      return {
        measure,
        sd,
        from: own === undefined ? 'usual' : 'own',
        smallest: Number.isFinite(smallest) ? smallest : null,
        needed: measure === asked.measure ? neededFor('pairs', asked.matters, sd) : null,
        usual: usualOf(asked.change, measure) ?? null,
      };
    }),
    differs: differsIn(collection, entries, asked.change, today),
    problems: problemsOf(collection, asked, today),
  };
}

function usualOf(change: TrialChange, measure: TrialMeasure): number | undefined {
  switch (change.kind) {
    case 'strength':
      return usualEffect('strength', change.share, measure);
    case 'days':
      return usualEffect('days', change.times, measure);
    case 'flush':
      return usualEffect('flush', change.timesReservoir, measure);
    case 'flushWith':
      return usualEffect('flushWith', 1, measure);
    case 'pourPh':
      return usualEffect('pourPh', change.by, measure);
    default:
      return undefined;
  }
}

const nowOf = (collection: Collection, entry: PotEntry, today: string): Regimen | undefined => {
  const row = collection.regimens.get(followsOn(entry, today)?.regimenId ?? '');
  return row && readParams(row);
};

/** What the first arm's pots would get otherwise, in words, each once. */
function differsIn(collection: Collection, entries: readonly PotEntry[], change: TrialChange, today: string): string[] {
  const changed = regimenChange(change, collection);
  if (!changed) return [];
  const scale = growersScale(collection.meters);
  return [
    ...new Set(
      entries.flatMap((entry) => {
        const own = nowOf(collection, entry, today);
        return own ? regimenDifferences(own, withChange(own, changed), scale).map(({ words }) => words) : [];
      }),
    ),
  ];
}

/** Why it cannot be begun like this, each at its field. */
export function problemsOf(
  collection: Collection,
  asked: Pick<TrialPlanAsked, 'change' | 'potIds'>,
  today: string,
): Problem[] {
  const entries = potsIn(collection, asked.potIds);
  const problems: Problem[] = [];
  const at = (path: string, message: string) => problems.push({ path, message });
  if (entries.length < FEWEST_TRIAL_POTS)
    at(
      'potIds',
      `${entries.length === 1 ? 'One pot' : `${entries.length} pots`} can show nothing: a difference could be any pot’s own. Choose ${FEWEST_TRIAL_POTS} at the least, better 12 and more.`,
    );
  const retired = entries.filter(({ pot }) => pot.retiredOn !== null);
  if (retired.length > 0)
    at(
      'potIds',
      `${codes(retired)} ${retired.length === 1 ? 'is' : 'are'} kept no more. Leave ${retired.length === 1 ? 'it' : 'them'} out.`,
    );
  const busy = entries.filter(({ pot }) => runningTrial(collection, pot.id));
  if (busy.length > 0)
    at('potIds', `${codes(busy)}: in another trial that is running. One question at a time for each pot.`);
  if (asked.change.kind === 'regimen' && !collection.regimens.get(asked.change.regimenId))
    at('change.regimenId', 'That regimen is not in use any more. Choose another.');
  const fresh = regimenChange(asked.change, collection)
    ? entries.filter((e) => followsOn(e, today)?.fromDate === today)
    : [];
  if (fresh.length > 0)
    at(
      'potIds',
      `${codes(fresh)} came to another regimen today, so nobody knows yet what it is by it. Begin tomorrow, or leave it out.`,
    );
  problems.push(...regimensOf(collection, entries, asked.change, today));
  return problems;
}

const codes = (entries: readonly PotEntry[]) => entries.map(({ pot }) => pot.code).join(', ');

function regimensOf(
  collection: Collection,
  entries: readonly PotEntry[],
  change: TrialChange,
  today: string,
): Problem[] {
  const changed = regimenChange(change, collection);
  if (!changed) return [];
  const scale = growersScale(collection.meters);
  const same: PotEntry[] = [];
  const sour: PotEntry[] = [];
  const problems = new Map<string, Problem>();
  for (const entry of entries) {
    const own = nowOf(collection, entry, today);
    if (!own) continue;
    const next = withChange(own, changed);
    if (regimenDifferences(own, next, scale).length === 0) same.push(entry);
    if (next.feeds.some(({ pourPhLow }) => pourPhLow < LOWEST_POUR)) sour.push(entry);
    for (const { message } of regimenProblems(next)) problems.set(message, { path: 'change', message });
  }
  if (same.length > 0)
    problems.set('same', {
      path: 'change',
      message: `Both arms would get the same: ${same.length === entries.length ? 'they do so already' : `leave out ${codes(same)}, which ${same.length === 1 ? 'gets' : 'get'} it already or not at all`}.`,
    });
  if (sour.length > 0)
    problems.set('sour', {
      path: 'change',
      message: `${codes(sour)} would be poured under pH ${LOWEST_POUR}, which hurts roots. Change it by less.`,
    });
  return [...problems.values()];
}
