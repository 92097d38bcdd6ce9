import type { Stage } from '../../../contract/kinds.ts';
import type { TrialChange, TrialView } from '../../../contract/trials.ts';
import { daysBetween, plusDays } from '../../../core/regimen/index.ts';
import { armGiven, asDone, trialFound, type Given, type TrialSeries } from '../../../core/trial/index.ts';
import {
  AS_IT_WAS,
  changeOf,
  changeWords,
  plantOf,
  upTo,
  versionAt,
  versionsOf,
  type Collection,
  NO_PAST,
  type Past,
  type PastVisit,
  type PotPast,
  type PotEntry,
  type Rows,
} from '../../collection/index.ts';
import type { TrialPotRow, TrialRow } from '../../database/entities.ts';
import { readJson } from '../../database/read-json.ts';
import { z } from 'zod';
import { turnsOf } from '../turns/turns-view.ts';
import { armsOf, trialFigures } from './trial-figures.ts';
import { potShort } from './trial-plan.ts';

const WEEK = 7;
/** More than this of the visits without a reading is told. House rule. */
const MUCH_MISSING = 0.2;
const alikeWords = z.array(z.string());

/** Every trial as it stands, those that run first. */
export function trialsViewOf(rows: Rows, collection: Collection, past: Past, today: string): TrialView[] {
  return collection.trials.flatMap((trial) => trialViewOf(rows, collection, past, trial, today) ?? []);
}

/** A pot in a trial, with its fillings since its first day in it, and those of them that were the other arm's. */
type In = {
  readonly row: TrialPotRow;
  readonly entry: PotEntry;
  readonly untilOn: string;
  readonly filled: readonly PastVisit[];
  readonly grown: PotPast['grown'];
  readonly wrong: number;
};
/** How often the measure was to be read of a pot in the trial, and how often it was. What grows is measured when its grower likes: once from start to end is asked. */
function askedAndRead({ filled, row, entry, untilOn, grown }: In, measure: TrialView['measure']): [number, number] {
  if (measure === 'growth') {
    const read = grown.filter(({ since, on }) => since >= row.fromOn && on <= untilOn).length;
    return [Math.max(1, read), read];
  }
  const visits = filled.filter(({ since }) => since !== undefined && since >= row.fromOn);
  return [visits.length, trialFigures({ visits, grown }, measure, entry.pot.fillMl).length];
}

function potsOf(
  rows: Rows,
  collection: Collection,
  past: Past,
  trial: TrialRow,
  change: TrialChange,
  until: string,
): In[] {
  const mine = collection.trialPots.filter(({ trialId }) => trialId === trial.id);
  const stages = versionsOf(
    rows,
    'pot',
    mine.map(({ potId }) => potId),
    'stage',
  );
  return mine.flatMap((row): In[] => {
    const entry = collection.pots.get(row.potId);
    if (!entry) return [];
    const { pot } = entry;
    const untilOn = [row.leftOn ?? until, until].sort()[0]!;
    const { visits, grown } = past.get(row.potId) ?? NO_PAST;
    const filled = visits.filter(({ on }) => on >= row.fromOn && on <= untilOn);
    const arms = armsOf(entry, trial.startOn, change, collection);
    const stageOn = (on: string) => (versionAt(upTo(stages.get(pot.id), pot.stage), `${on}T12`) ?? pot.stage) as Stage;
    const other = (visit: PastVisit) =>
      arms &&
      armGiven(givenAt(visit, entry, collection), arms, { ...plantOf(pot), stage: stageOn(visit.on) }) === 1 - row.arm;
    return [{ row, entry, untilOn, filled, grown, wrong: filled.filter(other).length }];
  });
}

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
  const pots = potsOf(rows, collection, past, trial, change, until);
  const series = pots.map(({ row, entry, untilOn }): TrialSeries => ({
    id: row.potId,
    arm: row.arm,
    pair: row.pair,
    figures: trialFigures(past.get(row.potId) ?? NO_PAST, measure, entry.pot.fillMl),
    fromOn: row.fromOn,
    untilOn,
  }));
  const early = state === 'running' || state === 'early';
  const found = trialFound(series, trial.weeks, early, trial.matters, trial.seed);
  // A pot that got the other arm’s more often than its own is of the other arm, by what was done.
  const got = new Map(
    pots.map(({ row, filled, wrong }): [string, 0 | 1] => [
      row.potId,
      2 * wrong > filled.length ? ((1 - row.arm) as 0 | 1) : row.arm,
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
    pots: pots.map((one) => {
      const [visits, read] = askedAndRead(one, measure);
      return {
        ...potShort(one.entry),
        arm: one.row.arm,
        pair: one.row.pair,
        outcome: outcomes.get(one.row.potId) ?? null,
        visits,
        read,
        wrong: one.wrong,
        leftOn: one.row.leftOn,
        leftWhy: one.row.leftWhy,
      };
    }),
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

/** What was not read, where it is much. */
function unreadIn(pots: readonly In[], measure: TrialView['measure']): string[] {
  const counted = pots.map((pot) => ({ arm: pot.row.arm, of: askedAndRead(pot, measure) }));
  const all = counted.reduce((sum, { of: [asked] }) => sum + asked, 0);
  const missing = (arm?: number) =>
    counted.reduce(
      (sum, { arm: own, of: [asked, read] }) => sum + (arm === undefined || own === arm ? asked - read : 0),
      0,
    );
  if (missing() <= MUCH_MISSING * all) return [];
  const arms = `${missing(0)} with the change, ${missing(1)} as it was`;
  return [
    measure === 'growth'
      ? `${missing()} of ${pots.length} pots were not measured twice in it yet: ${arms}`
      : `${missing()} of ${all} visits were not read: ${arms}`,
  ];
}
