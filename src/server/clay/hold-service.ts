import type { EntityManager } from 'typeorm';
import type { ClayAct } from '../../contract/clay.ts';
import { inSentence, readingMiddle, volumeWords } from '../../core/quantity/index.ts';
import { AppError, fieldError } from '../app-error.ts';
import { appendCareEvent, readCareEvent } from '../database/care-log.ts';
import type { CareEvent, PlannedAct, Pot } from '../database/entities.ts';
import { applyRecords, changeRecords, readRecord, requirePot, touch, type RecordChange } from '../database/records.ts';
import { lastFilled, requireBegun, requireFits, scaleOf } from '../collection/index.ts';
import { settingsNow } from '../collection/index.ts';
import type { When } from '../when.ts';
import { holdFigure } from './acts/hold-read.ts';
import { expectedTop, readHolds, type Hold } from './holds.ts';
import { basesOf, metersOf } from '../collection/index.ts';

type ActOf<K extends ClayAct['kind']> = Extract<ClayAct, { kind: K }>;
type Done = { repeated: boolean };
const HOUR_MS = 3_600_000;
/** A hold that follows within so many hours finds the water of the one before, not feed. */
const STRAIGHT_ON_H = 12;

const PURPOSE_WORDS = { check: 'Salt check', leach: 'In-pot leach' };

/** A pot is filled to the brim with its holes taped; its clock runs. */
export async function startHold(
  manager: EntityManager,
  eventId: string,
  act: ActOf<'startHold'>,
  when: When,
): Promise<Done> {
  const pot = await requirePot(manager, act.potId);
  const [water] = await manager.query<{ name: string }[]>('SELECT name FROM water WHERE id = ?', [act.waterId]);
  if (!water) throw new AppError('not-found', 'That water is not on the shelf.');
  const meters = metersOf(manager);
  const holds = readHolds(manager, meters, pot.id).get(pot.id) ?? [];
  if (holds.some((hold) => hold.drainedAt === null))
    throw new AppError('hold-running', `${pot.code} is held already: drain that one first, or take it back.`);
  const { units } = settingsNow(manager);
  requireFits(pot, act.waterL * 1000, 'waterL', units);
  const words = `${PURPOSE_WORDS[act.purpose]}: holes taped, filled to the brim with ${volumeWords(act.waterL * 1000, units)} of ${inSentence(water.name)}`;
  const endsAt = new Date(when.at.getTime() + act.minutes * 60_000);
  const wanted: RecordChange[] = [
    {
      table: 'clock',
      id: act.clockId,
      after: {
        subjectKind: 'pot',
        subjectId: pot.id,
        words: act.purpose === 'check' ? 'Salt check: read at the top' : 'Hold: read at the top, drain',
        startedAt: when.at.toISOString(),
        endsAt: endsAt.toISOString(),
        origin: 'clay',
        stoppedAt: null,
      },
    },
  ];
  if (act.planId !== null && (await readRecord(manager, 'planned_act', act.planId)))
    wanted.push({ table: 'planned_act', id: act.planId, after: { doneOn: when.localDate } });
  const fed = lastFilled(manager, pot.id);
  const before = holds.at(-1);
  const straightOn =
    before?.drainedAt &&
    when.at.getTime() - Date.parse(before.drainedAt) < STRAIGHT_ON_H * HOUR_MS &&
    (!fed || fed.at < before.drainedAt);
  await appendCareEvent(manager, {
    id: eventId,
    kind: 'potHoldStarted',
    at: when.at,
    localDate: when.localDate,
    potId: pot.id,
    payload: {
      purpose: act.purpose,
      waterId: act.waterId,
      waterL: act.waterL,
      minutes: act.minutes,
      baseEcUsCm: basesOf(manager, meters).get(act.waterId) ?? null,
      fedEcUsCm: straightOn ? null : (fed?.ecUsCm ?? null),
      words,
      changes: await applyRecords(manager, wanted),
    },
  });
  await touch(manager, eventId, [`pot:${pot.id}`]);
  return { repeated: false };
}

/** A pen dipped at the top of the column, or at the hole as it drains. */
export async function readHold(
  manager: EntityManager,
  eventId: string,
  act: ActOf<'readHold'>,
  when: When,
): Promise<Done> {
  const { pot, hold, holds } = await requireHold(manager, act.holdId);
  const shown = readingMiddle(act.reading);
  if (shown === undefined && act.reading.kind !== 'overRange') throw fieldError('reading', 'Type what the pen reads.');
  const scale = scaleOf(metersOf(manager).get(act.ppmMeterId ?? ''));
  requireBegun(hold.at, when.at);
  const minutes = (when.at.getTime() - Date.parse(hold.at)) / 60_000;
  if (shown !== undefined && !act.confirmedOdd)
    requireLikely(shown, scale, hold, act.where, expectedTop(pot, holds, hold, minutes));
  const words = `${hold.started.purpose === 'check' ? 'Salt check' : 'Hold'}: ${WHERE_WORDS[act.where]} ${holdFigure(act.reading)}`;
  const { kind: _kind, confirmedOdd: _odd, ...rest } = act;
  await appendCareEvent(manager, {
    id: eventId,
    kind: 'potHoldRead',
    at: when.at,
    localDate: when.localDate,
    potId: pot.id,
    payload: { ...rest, words },
  });
  await touch(manager, eventId, [`pot:${pot.id}`]);
  return { repeated: false };
}

const WHERE_WORDS = { top: 'top of the clay', hole: 'at the hole' };

function requireLikely(
  shown: number,
  scale: number,
  hold: Hold,
  where: 'top' | 'hole',
  expected: ReturnType<typeof expectedTop>,
): void {
  const baseEc = hold.started.baseEcUsCm ?? 0;
  if (shown / scale < baseEc - 6)
    throw new AppError(
      'reading-below-base',
      `The pen reads ${shown}, and the water alone read ${Math.round(baseEc * scale)}. Rinse the pen and read again, or keep it once more if it stands.`,
    );
  if (where === 'hole' || !expected) return;
  const net = (shown / scale - baseEc) / 2;
  if (net <= expected.high * 2 + 10 && net >= expected.low / 2 - 10) return;
  const onPen = (half: number) => Math.round((half * 2 + baseEc) * scale);
  throw new AppError(
    'reading-odd',
    `${shown} is far from the ${onPen(expected.low)} to ${onPen(expected.high)} expected by now. Dip just under the surface, read again, or keep it once more if it stands.`,
  );
}

/** Untaped and drained; its clock stops. */
export async function drainHold(
  manager: EntityManager,
  eventId: string,
  act: ActOf<'drainHold'>,
  when: When,
): Promise<Done> {
  const { pot, hold } = await requireHold(manager, act.holdId);
  if (hold.drainedAt !== null) throw new AppError('not-found', 'That pot is drained already.');
  const clockIds = hold.started.changes.filter((change) => change.table === 'clock').map((change) => change.id);
  const running: RecordChange[] = [];
  for (const id of clockIds) {
    const clock = await readRecord(manager, 'clock', id);
    if (clock && clock['stoppedAt'] === null)
      running.push({ table: 'clock', id, after: { stoppedAt: when.at.toISOString() } });
  }
  const minutes = Math.round((when.at.getTime() - Date.parse(hold.at)) / 60_000);
  await appendCareEvent(manager, {
    id: eventId,
    kind: 'potHoldDrained',
    at: when.at,
    localDate: when.localDate,
    potId: pot.id,
    payload: {
      holdId: hold.id,
      to: act.to,
      words: `Drained after ${minutes} min${act.to ? `, to ${act.to}` : ''}`,
      changes: await applyRecords(manager, running),
    },
  });
  await touch(manager, eventId, [`pot:${pot.id}`]);
  return { repeated: false };
}

/** Holds put on the round, one line each. */
export async function planHolds(
  manager: EntityManager,
  eventId: string,
  act: ActOf<'planHolds'>,
  when: When,
): Promise<Done> {
  const pot = await requirePot(manager, act.potId);
  if (act.onDate < when.localDate) throw fieldError('onDate', 'That day is past. Choose today or later.');
  const changes = act.plans.map((plan): RecordChange => ({
    table: 'planned_act',
    id: plan.id,
    after: {
      subjectKind: 'pot',
      subjectId: pot.id,
      words: plan.words,
      onDate: act.onDate,
      origin: 'clay',
      originId: null,
      doneOn: null,
      droppedOn: null,
    } satisfies Omit<PlannedAct, 'id'>,
  }));
  return changeRecords(manager, {
    eventId,
    when,
    group: 'Plan',
    words: `Planned for ${act.onDate}: ${act.plans.map((p) => p.words).join('; ')}`,
    changes,
  });
}

async function requireHold(manager: EntityManager, holdId: string): Promise<{ pot: Pot; hold: Hold; holds: Hold[] }> {
  const [row] = await manager.query<CareEvent[]>(`SELECT * FROM care_event WHERE id = ? AND kind = 'potHoldStarted'`, [
    holdId,
  ]);
  if (!row) throw new AppError('not-found', 'That hold is not in the log.');
  const { potId } = readCareEvent(row);
  const pot = await requirePot(manager, potId!);
  const holds = readHolds(manager, metersOf(manager), pot.id).get(pot.id) ?? [];
  const hold = holds.find((h) => h.id === holdId);
  if (!hold) throw new AppError('not-found', 'That hold was taken back.');
  return { pot, hold, holds };
}
