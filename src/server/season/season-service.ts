import type { EntityManager } from 'typeorm';
import type { ForetoldDay, KeepPlan, PlanDid, PotPlanned, SeasonAct } from '../../contract/season.ts';
import { volumeWords } from '../../core/quantity/index.ts';
import { daysBetween, plusDays } from '../../core/regimen/index.ts';
import { AppError, fieldError } from '../app-error.ts';
import { collectionOf, potState, rowsFor, stillWaters } from '../collection/index.ts';
import type { PotPlanRow, SeasonRow, WaterPart } from '../database/entities.ts';
import { SEASON_ID } from '../database/entities/season.ts';
import { foretoldDays } from './learned.ts';
import { changesOf } from './season-year.ts';
import { changeRecords, readRecord, type RecordChange } from '../database/records.ts';

type When = { at: Date; localDate: string };

const AIM_WORDS: Readonly<Record<SeasonRow['aim'], string>> = {
  nobodyLate: 'nobody late',
  fewestMixes: 'fewest mixes',
  leastWater: 'least water',
};
const pots = (n: number) => `${n} pot${n === 1 ? '' : 's'}`;

function wordsOf(did: PlanDid, aim: SeasonRow['aim']): string {
  switch (did.kind) {
    case 'kept':
      return `The season's plan was kept: ${AIM_WORDS[aim]}`;
    case 'mended':
      return `The season's plan was mended: ${did.moved} watering${did.moved === 1 ? '' : 's'} moved`;
    case 'minutes':
      return did.minutes === null
        ? 'Minutes a day are not counted in the season’s plan any more'
        : `The season’s plan has ${did.minutes} minutes a day`;
    case 'moved':
      return `Moved in the season's plan: ${did.what}, ${pots(did.pots)}, from ${did.from} to ${did.to}`;
    case 'pinned':
      return `Pinned in the season's plan: ${did.what}, ${pots(did.pots)}, on ${did.on}`;
    case 'freed':
      return `No longer pinned: ${did.what}, ${pots(did.pots)}, on ${did.on}`;
    case 'notThatDay':
      return `Not on ${did.on}: ${did.what}, ${pots(did.pots)}`;
  }
}

/**
 * Keeps a plan, as one act. Only pots whose days differ are written.
 * @throws AppError `changed-since` where another plan stands than the one it was made from; `not-found`
 */
export async function keepThePlan(
  manager: EntityManager,
  eventId: string,
  { basis, aim, minutesADay, did, pots: plans, clay, foretold }: KeepPlan,
  when: When,
): Promise<{ repeated: boolean }> {
  const stands = (await readRecord(manager, 'season', SEASON_ID)) as unknown as SeasonRow | undefined;
  if ((stands?.madeAt || null) !== basis)
    throw new AppError(
      'changed-since',
      'The plan was changed on another device meanwhile. It is shown as it stands now; do it again there.',
    );
  const madeAt = when.at.toISOString();
  const changes: RecordChange[] = [];
  const known = new Map(rowsFor(manager)<PotPlanRow>('SELECT * FROM pot_plan').map((row) => [row.id, row]));
  const collection = collectionOf(manager);
  for (const plan of plans) {
    const state = potState(collection, plan.potId, when.localDate);
    if (!state) throw new AppError('not-found', 'A pot of this plan is not in the collection any more. Look again.');
    const row = rowOf(plan);
    const was = known.get(plan.potId);
    const skippedSince = was && state.openSkip && state.openSkip.at > was.madeAt;
    if (was && !skippedSince && same(was, row)) continue;
    if (!was && row.visits === '[]' && row.pins === '[]' && row.nots === '[]') continue;
    changes.push({ table: 'pot_plan', id: plan.potId, after: { madeAt, ...row } });
  }
  const season = {
    ...{ aim, madeAt, minutesADay, clay: JSON.stringify(inOrder(clay)) },
    foretold: JSON.stringify(withPast(stands, foretold, when.localDate)),
  };
  changes.push({ table: 'season', id: SEASON_ID, after: season });
  return changeRecords(manager, { eventId, when, group: 'Plan', words: wordsOf(did, aim), changes });
}

type Days = Pick<PotPlanRow, 'visits' | 'pins' | 'nots'>;
const rowOf = ({ visits, pins, nots }: PotPlanned): Days => ({
  visits: JSON.stringify(visits),
  pins: JSON.stringify([...pins].sort((a, b) => (a.on < b.on ? -1 : 1))),
  nots: JSON.stringify([...nots].sort()),
});
const same = (a: Days, b: Days) => a.visits === b.visits && a.pins === b.pins && a.nots === b.nots;
/** As many days gone by are held against what was done. */
const PAST_DAYS = 42;
/** The days gone by stay as they were foretold when they began, today too where a plan stood this morning. */
function withPast(
  stands: Pick<SeasonRow, 'foretold' | 'madeAt'> | undefined,
  foretold: readonly ForetoldDay[],
  today: string,
) {
  const told = stands ? foretoldDays(stands) : [];
  const before = told.filter(({ on }) => on <= today && on >= plusDays(today, -PAST_DAYS));
  const last = before.at(-1)?.on ?? '';
  return [...before, ...foretold.filter(({ on }) => on >= today && on > last)];
}

const inOrder = (clay: Readonly<Record<string, readonly string[]>>) =>
  Object.fromEntries(Object.entries(clay).sort(([a], [b]) => (a < b ? -1 : 1)));

/** @throws AppError `not-found`, `invalid-request` with the field */
export async function actOnSeason(
  manager: EntityManager,
  eventId: string,
  act: SeasonAct,
  when: When,
): Promise<{ repeated: boolean }> {
  const logged = (words: string, changes: readonly RecordChange[]) =>
    changeRecords(manager, { eventId, when, group: 'Plan', words, changes });
  switch (act.kind) {
    case 'dropPlan':
      return logged(
        'The season’s plan was let go: pots are due by their own days',
        await dropped(manager, when.localDate),
      );
    case 'away': {
      const { awayId, fromDate, untilDate } = act;
      if (untilDate < fromDate) throw fieldError('untilDate', 'You come back before you go. Choose a later day.');
      if (untilDate < when.localDate) throw fieldError('untilDate', 'That is over already. Choose today or later.');
      if (daysBetween(fromDate, untilDate) > MOST_DAYS_AWAY)
        throw fieldError('untilDate', 'More than a year away? Check the day.');
      return logged(`Away from ${fromDate} to ${untilDate}`, [
        { table: 'away', id: awayId, after: { fromDate, untilDate, droppedOn: null } },
      ]);
    }
    case 'notAway': {
      const row = await readRecord(manager, 'away', act.awayId);
      if (!row) throw new AppError('not-found', 'Those days away are not noted any more. Look again.');
      return logged(`Not away after all from ${row['fromDate']} to ${row['untilDate']}`, [
        { table: 'away', id: act.awayId, after: { droppedOn: when.localDate } },
      ]);
    }
    case 'made':
      return stillOnDay(manager, eventId, act, when, logged);
    case 'workTimes':
      return logged(
        'How long things take was said for the season’s plan',
        WORK_TIMES.map((id) => ({ table: 'work_time', id, after: { minutes: act[id] } })),
      );
    case 'part':
    case 'partChanged':
    case 'dropPart':
      return actOnPart(manager, act, when, logged);
  }
}

const WORK_TIMES = ['mix', 'pot', 'soakedPot', 'leach'] as const;

type PartAct = Extract<SeasonAct, { kind: 'part' | 'partChanged' | 'dropPart' }>;
type Logged = (words: string, changes: readonly RecordChange[]) => Promise<{ repeated: boolean }>;

/** Still water made or brought by a morning to come otherwise than usual. */
async function stillOnDay(
  manager: EntityManager,
  eventId: string,
  act: Extract<SeasonAct, { kind: 'made' }>,
  when: When,
  logged: Logged,
) {
  const collection = collectionOf(manager);
  const [water] = stillWaters(collection);
  if (act.on <= when.localDate)
    throw fieldError('litres', 'What came in by today stands in the tank: look into it and note that on the Shelf.');
  if (!water) throw new AppError('not-found', 'There is no still water on the Shelf.');
  const [known] = rowsFor(manager)<{ id: string }>(
    'SELECT id FROM made_day WHERE waterId = ? AND onDate = ?',
    water.id,
    act.on,
  );
  const words = act.litres === null ? 'as much as usual' : volumeWords(act.litres * 1000, collection.settings.units);
  return logged(`Still water by ${act.on}: ${words}`, [
    {
      table: 'made_day',
      id: known?.id ?? eventId,
      after: { waterId: water.id, onDate: act.on, litres: act.litres },
    },
  ]);
}

/** What wears in making still water: noted, put in new, or used no more. */
async function actOnPart(manager: EntityManager, act: PartAct, { localDate: today }: When, logged: Logged) {
  const { partId: id } = act;
  const change = (after: RecordChange['after']) => [{ table: 'water_part' as const, id, after }];
  const notAhead = (path: string, on: string) => {
    if (on > today) throw fieldError(path, 'That is still to come. Choose today or an earlier day.');
  };
  if (act.kind === 'part') {
    const { name, everyDays, changedOn } = act;
    notAhead('changedOn', changedOn);
    return logged(
      `${name} in the still water’s line, in use since ${changedOn}, good for ${everyDays} days`,
      change({ name, everyDays, changed: JSON.stringify([changedOn]), droppedOn: null }),
    );
  }
  const row = (await readRecord(manager, 'water_part', id)) as unknown as WaterPart | undefined;
  if (!row || row.droppedOn !== null) throw new AppError('not-found', 'That part is not noted any more. Look again.');
  if (act.kind === 'dropPart') return logged(`${row.name} is not used any more`, change({ droppedOn: today }));
  notAhead('on', act.on);
  const changed = [...new Set([...changesOf(row), act.on])].sort();
  return logged(`${row.name} put in new on ${act.on}`, change({ changed: JSON.stringify(changed) }));
}

const MOST_DAYS_AWAY = 400;

async function dropped(manager: EntityManager, today: string): Promise<RecordChange[]> {
  const season = await readRecord(manager, 'season', SEASON_ID);
  if (!season) throw new AppError('not-found', 'No plan stands. Look again.');
  const rows = rowsFor(manager)<PotPlanRow>(
    `SELECT * FROM pot_plan WHERE visits <> '[]' OR pins <> '[]' OR nots <> '[]'`,
  );
  return [
    ...rows.map((row): RecordChange => ({
      table: 'pot_plan',
      id: row.id,
      after: { visits: '[]', pins: '[]', nots: '[]' },
    })),
    // A plan that is let go is an empty one: the row stays, so that taking this back puts it all there again.
    {
      table: 'season',
      id: SEASON_ID,
      after: {
        madeAt: LET_GO,
        clay: '{}',
        foretold: JSON.stringify(withPast(season as unknown as SeasonRow, [], today)),
      },
    },
  ];
}

/** Of a plan that was let go. */
const LET_GO = '';
