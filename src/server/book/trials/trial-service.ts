import { randomUUID } from 'node:crypto';
import type { EntityManager } from 'typeorm';
import type { TrialAct, TrialChange } from '../../../contract/trials.ts';
import { plusDays } from '../../../core/regimen/index.ts';
import { seedOf } from '../../../core/statistics/index.ts';
import { withChange } from '../../../core/trial/index.ts';
import { upperFirst } from '../../../core/quantity/index.ts';
import { AppError, fieldError } from '../../app-error.ts';
import {
  changeOf,
  changeWords,
  collectionOf,
  followFrom,
  readParams,
  rowsFor,
  pastOfPot,
  writeParams,
  type Collection,
  type PotEntry,
} from '../../collection/index.ts';
import type { TrialPotRow, TrialRow } from '../../database/entities.ts';
import { changeRecords, type RecordChange } from '../../database/records.ts';
import { followsOn, regimenChange } from './trial-figures.ts';
import { pairsOf, potsIn, problemsOf } from './trial-plan.ts';

type Now = { readonly at: Date; readonly localDate: string };
type Done = { repeated: boolean };
type ActOf<K extends TrialAct['kind']> = Extract<TrialAct, { kind: K }>;

/**
 * One act on a trial, logged and undoable as a whole. The same request again changes nothing.
 * @throws AppError `invalid-request` with the field, `not-found`
 */
export async function actOnTrial(manager: EntityManager, eventId: string, act: TrialAct, when: Now): Promise<Done> {
  const collection = collectionOf(manager);
  const planned =
    act.kind === 'start'
      ? await begin(manager, collection, act, when.localDate)
      : act.kind === 'end'
        ? await end(manager, collection, act, when.localDate)
        : await leave(manager, collection, act, when.localDate);
  return changeRecords(manager, { eventId, when, group: 'Trial', ...planned });
}

type Planned = { readonly words: string; readonly changes: readonly RecordChange[] };

async function begin(
  manager: EntityManager,
  collection: Collection,
  act: ActOf<'start'>,
  today: string,
): Promise<Planned> {
  const problems = problemsOf(collection, act, today);
  if (problems[0]) throw new AppError('invalid-request', problems[0].message, { errors: problems });
  const entries = potsIn(collection, act.potIds);
  const rows = rowsFor(manager);
  const past = new Map(entries.map(({ pot }) => [pot.id, pastOfPot(rows, collection, pot.id)]));
  const seed = seedOf(act.trialId);
  const { pairs, left } = pairsOf(entries, past, act, today, seed);
  const byId = new Map(entries.map((entry) => [entry.pot.id, entry]));
  const first = pairs.map(([id]) => byId.get(id)!);
  const reason = `Trial: ${act.question}`;
  // What was poured this morning was poured before the lot was drawn.
  const firstDay = (potId: string) => (past.get(potId)?.visits.at(-1)?.on === today ? plusDays(today, 1) : today);
  const changes: RecordChange[] = [
    {
      table: 'trial',
      id: act.trialId,
      after: {
        question: act.question,
        change: JSON.stringify(act.change),
        measure: act.measure,
        matters: act.matters,
        startOn: today,
        weeks: act.weeks,
        alike: JSON.stringify(act.alike),
        seed,
        endedOn: null,
        endWhy: '',
      },
    },
    ...pairs.flatMap((pair, i) =>
      pair.map((potId, arm): RecordChange => ({
        table: 'trial_pot',
        id: randomUUID(),
        after: { trialId: act.trialId, potId, arm, pair: i, fromOn: firstDay(potId), leftOn: null, leftWhy: '' },
      })),
    ),
    ...(await changed(manager, collection, first, act.change, today, reason)),
  ];
  const without =
    left.length > 0 ? `, ${left.map((id) => byId.get(id)!.pot.code).join(', ')} left out as like none` : '';
  return {
    words:
      `Began a trial: ${act.question} ${first.map(({ pot }) => pot.code).join(', ')} ${changeWords(act.change, collection)}${without}`.slice(
        0,
        400,
      ),
    changes,
  };
}

/** What pots are given with the change, from a day on. */
async function changed(
  manager: EntityManager,
  collection: Collection,
  entries: readonly PotEntry[],
  change: TrialChange,
  today: string,
  reason: string,
): Promise<RecordChange[]> {
  if (change.kind === 'treatment')
    return entries.map(({ pot }) => ({
      table: 'treatment',
      id: randomUUID(),
      after: { potId: pot.id, kind: change.treatment, note: reason.slice(0, 200), fromDate: today, toDate: null },
    }));
  if (change.kind === 'own') return [];
  const made = new Map<string, string>();
  const changes: RecordChange[] = [];
  for (const entry of entries) {
    const from = followsOn(entry, today)!.regimenId;
    let to = change.kind === 'regimen' ? change.regimenId : made.get(from);
    if (to === undefined) {
      to = randomUUID();
      made.set(from, to);
      changes.push({ table: 'regimen', id: to, after: newRegimen(collection, from, change) });
    }
    changes.push(...(await followFrom(manager, entry.pot.id, to, today, reason)));
  }
  return changes;
}

/** A regimen with the change, under a name that no other has. */
function newRegimen(collection: Collection, from: string, change: TrialChange) {
  const row = collection.regimens.get(from)!;
  const regimen = withChange(readParams(row), regimenChange(change, collection)!);
  const name = `${row.name}, ${changeWords(change, collection)}`;
  const taken = new Set(
    [...collection.regimens.values()].filter((r) => r.retiredOn === null).map((r) => r.name.toLowerCase()),
  );
  let free = name;
  for (let n = 2; taken.has(free.toLowerCase()); n++) free = `${name} ${n}`;
  return { name: free, kind: regimen.school, params: writeParams(regimen), retiredOn: null };
}

function running(
  collection: Collection,
  trialId: string,
): { trial: TrialRow; pots: readonly TrialPotRow[]; change: TrialChange } {
  const trial = collection.trials.find(({ id }) => id === trialId);
  const change = trial && changeOf(trial);
  if (!trial || !change) throw new AppError('not-found', 'There is no such trial. Reload the page.');
  if (trial.endedOn !== null) throw fieldError('trialId', 'That trial is ended already.');
  return { trial, change, pots: collection.trialPots.filter((pot) => pot.trialId === trialId) };
}

async function end(manager: EntityManager, collection: Collection, act: ActOf<'end'>, today: string): Promise<Planned> {
  const { trial, pots, change } = running(collection, act.trialId);
  const inIt = pots.filter(({ leftOn }) => leftOn === null);
  const arm = (of: 0 | 1) =>
    inIt.filter((pot) => pot.arm === of).flatMap(({ potId }) => collection.pots.get(potId) ?? []);
  const changes: RecordChange[] = [
    { table: 'trial', id: trial.id, after: { endedOn: today, endWhy: act.why } },
    ...(act.after === 'back' ? await takenBack(manager, collection, arm(0), trial, change, today) : []),
    ...(act.after === 'all' ? await spread(manager, collection, arm(0), arm(1), trial, change, today) : []),
  ];
  const what = { back: 'all as before', keep: 'each stays as it is', all: `all ${changeWords(change, collection)}` }[
    act.after
  ];
  return {
    words: `Ended the trial: ${trial.question} ${upperFirst(what)}${act.why && `. ${act.why}`}`.slice(0, 400),
    changes,
  };
}

/** Pots with the change as they were before it; one that was changed otherwise since stays as it is. */
async function takenBack(
  manager: EntityManager,
  collection: Collection,
  entries: readonly PotEntry[],
  trial: TrialRow,
  change: TrialChange,
  today: string,
): Promise<RecordChange[]> {
  if (change.kind === 'own') return [];
  if (change.kind === 'treatment') {
    const ids = new Set(entries.map(({ pot }) => pot.id));
    return collection.treatments
      .filter(
        (t) => ids.has(t.potId) && t.kind === change.treatment && t.toDate === null && t.fromDate >= trial.startOn,
      )
      .map((t) => ({ table: 'treatment', id: t.id, after: { toDate: today } }));
  }
  const changes: RecordChange[] = [];
  for (const entry of entries) {
    const at = entry.follows.findIndex(({ fromDate }) => fromDate === trial.startOn);
    const before = entry.follows[at - 1];
    if (!before || followsOn(entry, today) !== entry.follows[at]) continue;
    changes.push(
      ...(await followFrom(manager, entry.pot.id, before.regimenId, today, `The trial ended: ${trial.question}`)),
    );
  }
  return changes;
}

/** The other arm's pots with the change too: each on what its own pair's regimen became. */
async function spread(
  manager: EntityManager,
  collection: Collection,
  first: readonly PotEntry[],
  second: readonly PotEntry[],
  trial: TrialRow,
  change: TrialChange,
  today: string,
): Promise<RecordChange[]> {
  const reason = `The trial ended: ${trial.question}`;
  if (change.kind === 'treatment' || change.kind === 'own' || change.kind === 'regimen')
    return changed(manager, collection, second, change, today, reason);
  // What a regimen became for the first arm it becomes for the second: one regimen, not two of the same.
  const became = new Map(
    first.flatMap((entry) => {
      const at = entry.follows.findIndex(({ fromDate }) => fromDate === trial.startOn);
      return at > 0 ? [[entry.follows[at - 1]!.regimenId, entry.follows[at]!.regimenId] as const] : [];
    }),
  );
  const changes: RecordChange[] = [];
  for (const entry of second) {
    const to = became.get(followsOn(entry, today)!.regimenId);
    changes.push(
      ...(to === undefined
        ? await changed(manager, collection, [entry], change, today, reason)
        : await followFrom(manager, entry.pot.id, to, today, reason)),
    );
  }
  return changes;
}

async function leave(
  manager: EntityManager,
  collection: Collection,
  act: ActOf<'leave'>,
  today: string,
): Promise<Planned> {
  const { trial, pots, change } = running(collection, act.trialId);
  const mine = pots.find(({ potId, leftOn }) => potId === act.potId && leftOn === null);
  const entry = collection.pots.get(act.potId);
  if (!mine || !entry) throw new AppError('not-found', 'That pot is not in this trial.');
  return {
    words: `${entry.pot.code} left the trial: ${act.why}`,
    changes: [
      { table: 'trial_pot', id: mine.id, after: { leftOn: today, leftWhy: act.why } },
      ...(mine.arm === 0 ? await takenBack(manager, collection, [entry], trial, change, today) : []),
    ],
  };
}
