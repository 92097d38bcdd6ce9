import type { EntityManager } from 'typeorm';
import type { ClayAct } from '../../contract/clay.ts';
import { MEDIUM_WORDS } from '../../contract/kinds.ts';
import { volumesProblem } from '../../contract/pots.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { atShare, plusDays } from '../../core/regimen/index.ts';
import { AppError, fieldError } from '../app-error.ts';
import { idFrom } from '../id-from.ts';
import { appendCareEvent } from '../database/care-log.ts';
import type { ClayBatch, Place, Pot, RegimenRow } from '../database/entities.ts';
import { applyRecords, readRecord, touch, type RecordChange } from '../database/records.ts';
import { readUsed } from './clay-used.ts';
import { fittedBatch } from './clay-log.ts';
import { requireBatch } from './clay-common.ts';
import type { When } from '../when.ts';
import { standingOf } from './clay-standing.ts';
import { followFrom, growersScale, metersOf, readParams, requireFreeCodes, writeParams } from '../collection/index.ts';

type PotUp = Extract<ClayAct, { kind: 'potUp' }>;

/** How a weak start climbs to the regimen: half, then three quarters, each for so many days. Our cautious option, no source. */
const RAMP = [
  { share: 0.5, name: 'Half of' },
  { share: 0.75, name: 'Three quarters of' },
] as const;

/**
 * A plant potted up, or converted from soil: its pot written or added, the clay drawn from its batch, how it is fed from today. One act.
 * @throws AppError `not-ready` (asked once), `code-taken`, `invalid-request` with the field, `not-found`
 */
export async function potUp(
  manager: EntityManager,
  eventId: string,
  act: PotUp,
  when: When,
): Promise<{ repeated: boolean }> {
  const { old, place } = await requirePottable(manager, act);
  const batch = act.clayId === null ? undefined : await requireBatch(manager, act.clayId);
  if (batch && act.clayL <= 0) throw fieldError('clayL', 'Give the litres of clay that went in, such as 0.8.');
  const notReady = batch ? await requireReady(manager, batch, act, when) : false;
  const clay = batch?.name ?? null;
  const note = notReady
    ? withNote(act.values.note, `Planted in ${clay} before it was ready, ${when.localDate}.`)
    : act.values.note;
  const pot = { ...act.values, clay, clayL: batch ? act.clayL : null, repottedOn: when.localDate, note };
  const position = old && old.placeId === place.id ? {} : { position: await endOf(manager, place.id) };
  const wanted: RecordChange[] = [
    { table: 'pot', id: act.potId, after: { ...pot, ...position, ...(old ? {} : { retiredOn: null, became: '' }) } },
    ...(await feedingFrom(manager, eventId, act, when.localDate, old !== undefined)),
    firstFeed(eventId, act, when),
  ];
  const words = wordsOf(act, batch, notReady);
  // The pot must stand before an event can point at it.
  const changes = await applyRecords(manager, wanted);
  const { clayId, clayL, roots: left, peroxide, bacteria, start, weakDays } = act;
  await appendCareEvent(manager, {
    id: eventId,
    kind: 'potPotted',
    at: when.at,
    localDate: when.localDate,
    // A pot that came with this act goes with it when it is taken back, so the log must not hold on to it.
    potId: old ? act.potId : null,
    payload: {
      potId: act.potId,
      clayId,
      clayL: batch ? clayL : 0,
      notReady,
      roots: left,
      peroxide,
      bacteria,
      start,
      weakDays,
      words,
      changes,
    },
  });
  await touch(manager, eventId, [`pot:${act.potId}`, ...(batch ? [`clay_batch:${batch.id}`] : [])]);
  return { repeated: false };
}

/** @throws AppError where the pot, its place or what is to go on its roots cannot be so */
async function requirePottable(manager: EntityManager, act: PotUp): Promise<{ old: Pot | undefined; place: Place }> {
  const old = (await readRecord(manager, 'pot', act.potId)) as unknown as Pot | undefined;
  if (old?.retiredOn) throw new AppError('in-use', `${old.code} is retired. Bring it back first.`);
  const problem = volumesProblem(act.values);
  if (problem) throw fieldError(`values.${problem.path}`, problem.message);
  await requireFreeCodes(manager, [{ code: act.values.code, potId: act.potId, path: 'values.code' }]);
  const [place] = await manager.query<Place[]>('SELECT * FROM place WHERE id = ? AND retiredOn IS NULL', [
    act.values.placeId,
  ]);
  if (!place) throw fieldError('values.placeId', 'That place is not here any more. Choose another.');
  if (act.bacteria && act.peroxide)
    throw fieldError('bacteria', 'Peroxide kills the bacteria too. Choose one; the other can follow after some days.');
  return { old, place };
}

const ROOTS: Readonly<Record<string, string>> = {
  sound: '',
  none: ', no roots left',
  'few left': ', few roots left',
};

function wordsOf(act: PotUp, batch: ClayBatch | undefined, notReady: boolean): string {
  const into = batch
    ? `${Number(act.clayL.toFixed(2))} L of ${batch.name}${notReady ? ', not ready yet' : ''}`
    : MEDIUM_WORDS[act.values.medium];
  const roots = ROOTS[act.roots] ?? ', soft roots cut';
  const start = act.start === 'weak' ? `, weak start for ${act.weakDays} days` : '';
  return `${act.values.code} ${act.values.name || act.values.plant} potted up in ${into}${roots}${start}`;
}

const firstFeed = (eventId: string, { potId, start }: PotUp, { localDate }: When): RecordChange => ({
  table: 'planned_act',
  id: idFrom(eventId, 'first feed'),
  after: {
    subjectKind: 'pot',
    subjectId: potId,
    words: start === 'weak' ? 'First feed after potting, weak' : 'First feed after potting',
    onDate: localDate,
    origin: 'clay',
    originId: null,
    doneOn: null,
    droppedOn: null,
  },
});

/** Enough of it, and fit to plant; planting sooner is asked about once and noted on the pot. @returns whether it is not ready */
async function requireReady(manager: EntityManager, batch: ClayBatch, act: PotUp, when: When): Promise<boolean> {
  const used = readUsed(manager).get(batch.id);
  const leftL = batch.volumeL - (used?.litres ?? 0) + (used?.pots.find((p) => p.id === act.potId)?.named ?? 0);
  if (act.clayL > leftL + 0.05)
    throw fieldError(
      'clayL',
      `${batch.name} has ${Number(Math.max(0, leftL).toFixed(1))} L left. Take less, or another batch; or put its volume right.`,
    );
  const scale = growersScale(metersOf(manager));
  const standing = standingOf(fittedBatch(manager, batch.id), when.at, leftL, (half) => ppmFromEc(half * 2, scale));
  if (standing.ready) return false;
  if (!act.confirmedNotReady)
    throw new AppError(
      'not-ready',
      `${batch.name} is not ready. ${standing.why} Plants in such clay stall for months. Pot up in it all the same, and it is noted on the pot.`,
    );
  return true;
}

/** Its regimen from today, or a weak start that climbs to it. */
async function feedingFrom(
  manager: EntityManager,
  eventId: string,
  act: PotUp,
  today: string,
  there: boolean,
): Promise<RecordChange[]> {
  const [main] = await manager.query<RegimenRow[]>('SELECT * FROM regimen WHERE id = ? AND retiredOn IS NULL', [
    act.regimenId,
  ]);
  if (!main) throw fieldError('regimenId', 'That regimen is not in use any more. Choose another.');
  if (act.start === 'feed') {
    const [now] = there
      ? await manager.query<{ regimenId: string }[]>(
          'SELECT regimenId FROM pot_regimen WHERE potId = ? AND fromDate <= ? ORDER BY fromDate DESC LIMIT 1',
          [act.potId, today],
        )
      : [];
    const [later] = await manager.query<unknown[]>('SELECT 1 FROM pot_regimen WHERE potId = ? AND fromDate > ?', [
      act.potId,
      today,
    ]);
    return now?.regimenId === main.id && !later
      ? []
      : followFrom(manager, act.potId, main.id, today, 'Potted up; fed at once.');
  }
  if (act.weakDays < 1) throw fieldError('weakDays', 'Give the days each step lasts, such as 10.');
  const changes: RecordChange[] = [];
  const params = readParams(main);
  for (const [i, { share, name }] of RAMP.entries()) {
    const called = `${name} ${main.name}`.slice(0, 60).trim();
    const json = writeParams(atShare(params, share));
    const [same] = await manager.query<RegimenRow[]>(
      'SELECT * FROM regimen WHERE name = ? AND params = ? AND retiredOn IS NULL',
      [called, json],
    );
    const id = same?.id ?? idFrom(eventId, name);
    if (!same)
      changes.push({
        table: 'regimen',
        id,
        after: { name: called, kind: params.school, params: json, retiredOn: null },
      });
    changes.push(
      ...(await followFrom(
        manager,
        act.potId,
        id,
        plusDays(today, i * act.weakDays),
        `Weak start after potting, ${Math.round(share * 100)} %.`,
      )),
    );
  }
  changes.push(
    ...(await followFrom(
      manager,
      act.potId,
      main.id,
      plusDays(today, RAMP.length * act.weakDays),
      'The weak start is over.',
    )),
  );
  return changes;
}

async function endOf(manager: EntityManager, placeId: string): Promise<number> {
  const [row] = await manager.query<{ position: number | null }[]>(
    'SELECT max(position) AS position FROM pot WHERE placeId = ?',
    [placeId],
  );
  return Math.floor(row?.position ?? -1) + 1;
}

const withNote = (note: string, more: string) => `${note}${note ? ' ' : ''}${more}`.slice(0, 1000);
