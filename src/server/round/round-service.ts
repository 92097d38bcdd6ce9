import type { EntityManager } from 'typeorm';
import type { ManyDone } from '../../contract/common.ts';
import type { RoundActRead } from '../../contract/round.ts';
import { lookWords } from '../../contract/seen.ts';
import { inSentence, volumeWords } from '../../core/quantity/index.ts';
import { AppError, fieldError } from '../app-error.ts';
import { appendCareEvent, type Appended, type NewCareEvent } from '../database/care-log.ts';
import type { Batch, CareEvent, Pot } from '../database/entities.ts';
import { applyRecords, readRecord, requirePot, touch, type RecordChange } from '../database/records.ts';
import { leftOfBatch, openSupplement, pourableMl, settingsNow } from '../collection/index.ts';
import { requireBegun, requireFits, requireVolumesFit } from '../collection/index.ts';
import { basesOf, metersOf } from '../collection/index.ts';
import { SOAKS } from '../../core/regimen/index.ts';

type When = { at: Date; localDate: string };
type ActOf<K extends RoundActRead['kind']> = Extract<RoundActRead, { kind: K }>;

/**
 * Logs one act on the round. The pot's due day is its natural key: a second device is told who logged it, and nothing is written twice.
 * @throws AppError `not-found`, `already-logged`, `mix-too-small`, `batch-closed`, `in-soak`, `invalid-request` with the field
 */
export async function actOnRound(
  manager: EntityManager,
  eventId: string,
  act: RoundActRead,
  when: When,
): Promise<Appended> {
  const pot = await requirePot(manager, act.potId);
  const known = await manager.getRepository<CareEvent>('care_event').findOneBy({ id: eventId });
  const base = { id: eventId, at: when.at, localDate: when.localDate, potId: pot.id };
  return (BY_KIND[act.kind] as (on: On, act: RoundActRead) => Promise<Appended>)(
    { manager, base, pot, known, when },
    act,
  );
}

/**
 * Several pots filled in one act, each with its own line; one that another device logged meanwhile is left as it is, and told.
 * @throws AppError as for one, with the pot named, and then none is logged
 */
export async function fillMany(
  manager: EntityManager,
  fills: readonly { readonly eventId: string; readonly act: ActOf<'filled'> }[],
  when: When,
): Promise<ManyDone> {
  const loggedIds: string[] = [];
  const already: string[] = [];
  for (const { eventId, act } of fills) {
    const { code } = await requirePot(manager, act.potId);
    try {
      await actOnRound(manager, eventId, act, when);
      loggedIds.push(eventId);
    } catch (error) {
      if (!(error instanceof AppError)) throw error;
      if (error.code !== 'already-logged') throw named(error, code);
      already.push(code);
    }
  }
  return { loggedIds, already, repeated: false };
}

const named = ({ code, message }: AppError, pot: string) =>
  new AppError(code, `${pot}: ${message} None of them was logged.`);

type On = {
  readonly manager: EntityManager;
  readonly base: Base;
  readonly pot: Pot;
  readonly known: CareEvent | null;
  readonly when: When;
};

const BY_KIND: {
  readonly [K in RoundActRead['kind']]: (on: On, act: Extract<RoundActRead, { kind: K }>) => Promise<Appended>;
} = {
  skipped: async ({ manager, base, pot, when }, act) => {
    if (!(act.lookAgainOn > when.localDate)) {
      throw new AppError('invalid-request', 'Look again tomorrow at the earliest.', {
        errors: [
          {
            path: 'lookAgainOn',
            message: 'Look again tomorrow at the earliest; to do it today, leave it on the round.',
          },
        ],
      });
    }
    const { dueOn, reason, lookAgainOn } = act;
    return appendCareEvent(manager, {
      ...base,
      dueKey: `${pot.id}:${dueOn}`,
      kind: 'potSkipped',
      payload: { dueOn, reason, lookAgainOn },
    });
  },
  filled: ({ manager, base, pot, known }, act) => {
    return fill(manager, base, act, { pot, known });
  },
  supplement: async ({ manager, base, pot, known }, act) =>
    known ? repeat(known, 'supplementStarted') : startSupplement(manager, base, act, pot),
  drained: async ({ manager, base, pot, known }, act) =>
    known ? repeat(known, 'supplementEnded') : endSupplement(manager, base, act, pot),
  toppedUp: async ({ manager, base, pot, known }, act) => {
    const { units } = settingsNow(manager);
    requireFits(pot, act.ml, 'ml', units);
    const water = act.waterId === null ? undefined : await nameOf(manager, 'water', act.waterId);
    const batch = act.batchId === null ? undefined : await nameOf(manager, 'batch', act.batchId);
    if (!water && !batch) throw fieldError('waterId', 'Say what was poured on: a water, or a mix.');
    if (!known && act.batchId) await checkMix(manager, act.batchId, act.ml, 'ml');
    const words = `Topped up with ${volumeWords(act.ml, units)} of ${inSentence((water ?? batch)!)}`;
    return appendCareEvent(manager, {
      ...base,
      batchId: act.batchId,
      kind: 'potToppedUp',
      payload: { waterId: act.waterId, ml: act.ml, words },
    });
  },
  reread: ({ manager, base, pot, known }, act) => {
    return reread(manager, base, act, { pot, known });
  },
  looked: ({ manager, base }, act) => {
    return appendCareEvent(manager, {
      ...base,
      kind: 'potLooked',
      payload: { look: act.look, words: `Looked over: ${lookWords(act.look)}` },
    });
  },
};

/** What stands in the pot is read and left there. */
async function reread(
  manager: EntityManager,
  base: Base,
  act: ActOf<'reread'>,
  { pot, known }: { pot: Pot; known: CareEvent | null },
): Promise<Appended> {
  const { units } = settingsNow(manager);
  const { kind: _kind, potId: _potId, ...figures } = act;
  const { ppm, ph, leftMl } = figures;
  if (ppm.kind === 'notMeasured' && ph.kind === 'notMeasured' && leftMl === null)
    throw fieldError('ppm', 'Type what was read: the ppm, the pH, or what is left.');
  if (leftMl !== null) requireFits(pot, leftMl, 'leftMl', units);
  if (!known && (await openSupplement(manager, pot.id)))
    throw new AppError(
      'in-soak',
      `${pot.code} stands in its soak, and that is what a pen would read. Drain and fill it first.`,
    );
  const words = `Read where it stands${leftMl === null ? '' : `, ${volumeWords(leftMl, units)} in it`}`;
  return appendCareEvent(manager, { ...base, kind: 'potReread', payload: { ...figures, words } });
}

type Base = Pick<NewCareEvent<'potFilled'>, 'id' | 'at' | 'localDate'> & { potId: string };

async function fill(
  manager: EntityManager,
  base: Base,
  act: ActOf<'filled'>,
  { pot, known }: { pot: Pot; known: CareEvent | null },
): Promise<Appended> {
  const { kind: _kind, potId, confirmedOdd: _odd, ...payload } = act;
  if (!known) {
    if (act.batchId) await checkMix(manager, act.batchId, act.pouredMl, 'pouredMl');
    requireVolumesFit(manager, pot, act);
    const soaking = await openSupplement(manager, potId);
    if (soaking)
      throw new AppError('in-soak', 'It stands in its soak. Drain it first, then flush and fill.', { errors: [] });
  }
  // What the water read then is the server's to know; a repeat says again what was said the first time.
  const before =
    known?.kind === 'potFilled'
      ? (JSON.parse(known.payload) as { waterEcUsCm?: number | null }).waterEcUsCm
      : undefined;
  const waterEcUsCm =
    act.waterId === null || act.batchId !== null
      ? null
      : (before ?? basesOf(manager, metersOf(manager)).get(act.waterId) ?? null);
  return appendCareEvent(manager, {
    ...base,
    dueKey: `${potId}:${act.dueOn}`,
    batchId: act.batchId,
    kind: 'potFilled',
    payload: { ...payload, waterEcUsCm },
  });
}

async function startSupplement(
  manager: EntityManager,
  base: Base,
  act: ActOf<'supplement'>,
  pot: Pot,
): Promise<Appended> {
  const { units } = settingsNow(manager);
  const open = await openSupplement(manager, pot.id);
  if (open)
    throw new AppError('in-soak', `${pot.code} stands in a soak already. Drain it first, or take that one back.`);
  if (act.way === 'soak' && pot.medium === 'basket')
    throw fieldError('way', `${pot.code} is a basket and cannot be filled. Spray its leaves in the same week.`);
  if (act.way === 'soak') requireFits(pot, act.pouredMl, 'pouredMl', units);
  if (act.batchId) await checkMix(manager, act.batchId, act.pouredMl, 'pouredMl');
  const mix = act.batchId === null ? undefined : await nameOf(manager, 'batch', act.batchId);
  const changes: RecordChange[] =
    act.way === 'soak' && act.holdMinutes !== null
      ? [
          {
            table: 'clock',
            id: act.clockId,
            after: {
              subjectKind: 'pot',
              subjectId: pot.id,
              words: 'Soak over: drain, flush, fill',
              startedAt: base.at.toISOString(),
              endsAt: new Date(base.at.getTime() + act.holdMinutes * 60_000).toISOString(),
              origin: 'round',
              stoppedAt: null,
            },
          },
        ]
      : [];
  const of = mix ? ` of ${inSentence(mix)}` : ', a mix not measured';
  const words =
    act.way === 'soak'
      ? `Filled to the brim for a ${SOAKS[act.what].name}, ${volumeWords(act.pouredMl, units)}${of}`
      : `Leaves sprayed, ${volumeWords(act.pouredMl, units)}${of}`;
  const { dueOn, what, way, pouredMl, holdMinutes } = act;
  const done = await appendCareEvent(manager, {
    ...base,
    batchId: act.batchId,
    kind: 'supplementStarted',
    // A pot is soaked once for a due day, whoever presses first.
    dueKey: `${pot.id}:${dueOn}:${way}`,
    payload: { dueOn, what, way, pouredMl, holdMinutes, words, changes: await applyRecords(manager, changes) },
  });
  await touch(manager, base.id, [`pot:${pot.id}`]);
  return done;
}

async function endSupplement(manager: EntityManager, base: Base, act: ActOf<'drained'>, pot: Pot): Promise<Appended> {
  const open = await openSupplement(manager, pot.id);
  if (!open || open.id !== act.supplementId)
    throw new AppError('not-found', `${pot.code} does not stand in that soak any more.`);
  const running: RecordChange[] = [];
  for (const { table, id } of open.changes) {
    const clock = table === 'clock' ? await readRecord(manager, 'clock', id) : undefined;
    if (clock && clock['stoppedAt'] === null)
      running.push({ table: 'clock', id, after: { stoppedAt: base.at.toISOString() } });
  }
  requireBegun(open.at, base.at);
  const minutes = Math.round((base.at.getTime() - Date.parse(open.at)) / 60_000);
  const words = `Drained after ${minutes} min`;
  const done = await appendCareEvent(manager, {
    ...base,
    kind: 'supplementEnded',
    payload: { supplementId: open.id, words, changes: await applyRecords(manager, running) },
  });
  await touch(manager, base.id, [`pot:${pot.id}`]);
  return done;
}

function repeat(known: CareEvent, kind: string): Appended {
  if (known.kind === kind) return { event: known, repeated: true };
  throw new AppError(
    'id-reused',
    'An act with this number is already logged with other contents. Reload the page and log it again.',
  );
}

async function nameOf(manager: EntityManager, table: 'water' | 'batch', id: string): Promise<string | undefined> {
  const [row] = await manager.query<{ name: string }[]>(`SELECT name FROM ${table} WHERE id = ?`, [id]);
  return row?.name;
}

async function checkMix(manager: EntityManager, batchId: string, ml: number, path: string): Promise<void> {
  const batch = await manager.getRepository<Batch>('batch').findOneBy({ id: batchId });
  if (!batch) throw new AppError('not-found', 'That mix is not in this collection.');
  if (batch.status !== 'poured')
    throw new AppError('batch-closed', 'That mix is not ready to pour: finish it at the bench first.');
  const leftMl = leftOfBatch(manager, batch);
  if (ml > pourableMl(batch, leftMl)) {
    const message = `Only ${volumeWords(leftMl)} of that mix is left and this pot takes ${volumeWords(ml)}. Make more at the bench, or pour less.`;
    throw new AppError('mix-too-small', message, { errors: [{ path, message }] });
  }
}
