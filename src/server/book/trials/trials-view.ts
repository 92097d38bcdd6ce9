import type { TrialView } from '../../../contract/trials.ts';
import { daysBetween, plusDays } from '../../../core/regimen/index.ts';
import { armGiven, asDone, trialFound, type Given, type TrialSeries } from '../../../core/trial/index.ts';
import {
  AS_IT_WAS,
  changeOf,
  changeWords,
  type Collection,
  type PastVisit,
  type PotEntry,
  type Rows,
} from '../../collection/index.ts';
import type { TrialPotRow, TrialRow } from '../../database/entities.ts';
import { readJson } from '../../database/read-json.ts';
import { z } from 'zod';
import { turnsOf } from '../turns/turns-view.ts';
import { armsOf, trialFigures } from './trial-figures.ts';
import { potShort } from './trial-plan.ts';

type Past = ReadonlyMap<string, readonly PastVisit[]>;
const WEEK = 7;
/** More than this of the visits without a reading is told. House rule. */
const MUCH_MISSING = 0.2;
const alikeWords = z.array(z.string());

/** Every trial as it stands, those that run first. */
export function trialsViewOf(rows: Rows, collection: Collection, past: Past, today: string): TrialView[] {
  return collection.trials.flatMap((trial) => trialViewOf(rows, collection, past, trial, today) ?? []);
}

type In = {
  readonly row: TrialPotRow;
  readonly entry: PotEntry;
  readonly visits: readonly PastVisit[];
  readonly wrong: number;
};

/** One trial; undefined where its record cannot be understood. */
function trialViewOf(
  rows: Rows,
  collection: Collection,
  past: Past,
  trial: TrialRow,
  today: string,
): TrialView | undefined {
  const change = changeOf(trial);
  if (!change) return undefined;
  const measure = trial.measure as TrialView['measure'];
  const endOn = plusDays(trial.startOn, WEEK * trial.weeks);
  const until = [endOn, trial.endedOn ?? today, today].sort()[0]!;
  const state = stateOf(trial, endOn, today);
  const pots = collection.trialPots.flatMap((row): In[] => {
    const entry = row.trialId === trial.id ? collection.pots.get(row.potId) : undefined;
    if (!entry) return [];
    const last = [row.leftOn ?? until, until].sort()[0]!;
    const visits = (past.get(row.potId) ?? []).filter(
      ({ on, since }) => since !== undefined && since >= trial.startOn && on <= last,
    );
    const filled = (past.get(row.potId) ?? []).filter(({ on }) => on >= trial.startOn && on <= last);
    const arms = armsOf(entry, trial.startOn, change, collection);
    const wrong = arms
      ? filled.filter((visit) => armGiven(givenAt(visit, entry, collection), arms) === 1 - row.arm).length
      : 0;
    return [{ row, entry, visits, wrong }];
  });
  const series = pots.map(({ row, entry }): TrialSeries => ({
    id: row.potId,
    arm: row.arm,
    pair: row.pair,
    figures: trialFigures(past.get(row.potId) ?? [], measure, entry.pot.fillMl),
    leftOn: [row.leftOn ?? until, until].sort()[0]!,
  }));
  const early = state === 'running' || state === 'early';
  const found = trialFound(series, trial.startOn, trial.weeks, early, trial.matters, trial.seed);
  // A pot that got the other arm’s more often than its own is of the other arm, by what was done.
  const got = new Map(
    pots.map(({ row, visits, wrong }): [string, 0 | 1] => [
      row.potId,
      wrong > 0 && 2 * wrong > visits.length ? ((1 - row.arm) as 0 | 1) : row.arm,
    ]),
  );
  const strayed = pots.some(({ row }) => got.get(row.potId) !== row.arm);
  const outcomes = new Map(found.pots.map(({ id, outcome }) => [id, outcome]));
  return {
    id: trial.id,
    question: trial.question,
    change,
    arms: [changeWords(change, collection), AS_IT_WAS],
    measure,
    matters: trial.matters,
    startOn: trial.startOn,
    weeks: trial.weeks,
    endOn,
    endedOn: trial.endedOn,
    endWhy: trial.endWhy,
    weeksGone: Math.max(0, Math.floor(daysBetween(trial.startOn, until) / WEEK)),
    state,
    alike: readJson(alikeWords, trial.alike) ?? [],
    pots: pots.map(({ row, entry, visits, wrong }) => ({
      ...potShort(entry),
      arm: row.arm,
      pair: row.pair,
      outcome: outcomes.get(row.potId) ?? null,
      visits: visits.length,
      read: trialFigures(visits, measure, entry.pot.fillMl).length,
      wrong,
      leftOn: row.leftOn,
      leftWhy: row.leftWhy,
    })),
    pairs: found.pairs,
    difference: found.difference ? interval(found.difference) : null,
    asDone: strayed ? intervalOrNull(asDone(found, got, trial.seed)) : null,
    smallest: found.smallest ?? null,
    verdict: found.verdict,
    unequal: unequalIn(rows, collection, past, trial, pots, measure, until),
  };
}

const interval = ({ mean, low, high }: { mean: number; low: number; high: number }) => ({ mean, low, high });
const intervalOrNull = (found: { mean: number; low: number; high: number } | undefined) =>
  found ? interval(found) : null;

function stateOf({ endedOn }: TrialRow, endOn: string, today: string): TrialView['state'] {
  if (endedOn === null) return today < endOn ? 'running' : 'over';
  return endedOn < endOn ? 'early' : 'ended';
}

function givenAt(visit: PastVisit, { pot }: PotEntry, { batches }: Collection): Given {
  const batch = visit.batchId === null ? undefined : batches.get(visit.batchId);
  return {
    netEcUsCm: batch?.row.netEcUsCm ?? undefined,
    ph: visit.givenPh,
    flushTimes: visit.flushMl / pot.reservoirMl,
    stillShare: visit.flushMl > 0 ? visit.flushStillMl / visit.flushMl : undefined,
  };
}

/** What was not the same for both arms, in words. */
function unequalIn(
  rows: Rows,
  collection: Collection,
  past: Past,
  trial: TrialRow,
  pots: readonly In[],
  measure: TrialView['measure'],
  until: string,
): string[] {
  const found: string[] = [];
  const armOf = new Map(pots.map(({ row }) => [row.potId, row.arm]));
  const counted = (ids: readonly string[]) =>
    [0, 1].map((arm) => ids.filter((id) => armOf.get(id) === arm).length) as [number, number];
  for (const turn of turnsOf(rows, collection, past)) {
    // What the trial itself changed is no turn of its own.
    if (turn.on < trial.startOn || turn.on > until || turn.potIds === null) continue;
    if (turn.on === trial.startOn && (turn.kind === 'regimen' || turn.kind === 'treatment')) continue;
    const [a, b] = counted(turn.potIds);
    if (a !== b) found.push(`${turn.title}: ${a} with the change, ${b} as it was`);
  }
  const pairs = [...new Set(pots.map(({ row }) => row.pair))].map((pair) =>
    pots.filter(({ row }) => row.pair === pair),
  );
  const apart = pairs.filter((pair) => new Set(pair.map(({ entry }) => entry.pot.placeId)).size > 1).length;
  if (apart > 0) found.push(`${apart} ${apart === 1 ? 'pair stands' : 'pairs stand'} on two places`);
  found.push(...unreadIn(pots, measure));
  for (const { entry, wrong, row } of pots) {
    if (wrong > 0)
      found.push(`${entry.pot.code} got what the other arm gets ${wrong === 1 ? 'once' : `${wrong} times`}`);
    if (row.leftOn !== null) found.push(`${entry.pot.code} left: ${row.leftWhy}`);
  }
  return found;
}

/** Visits that were not read, where they are many. */
function unreadIn(pots: readonly In[], measure: TrialView['measure']): string[] {
  const missing = pots.map((p) => p.visits.length - trialFigures(p.visits, measure, p.entry.pot.fillMl).length);
  const [all, unread] = [pots.reduce((sum, { visits }) => sum + visits.length, 0), missing.reduce((a, b) => a + b, 0)];
  if (unread <= MUCH_MISSING * all) return [];
  const of = (arm: number) => pots.reduce((sum, { row }, i) => sum + (row.arm === arm ? missing[i]! : 0), 0);
  return [`${unread} of ${all} visits were not read: ${of(0)} with the change, ${of(1)} as it was`];
}
