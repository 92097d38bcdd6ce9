import type { EntityManager } from 'typeorm';
import type { DriftAct } from '../../contract/drift.ts';
import { TREATMENT_WORDS } from '../../contract/kinds.ts';
import { inSentence, readingMiddle, volumeWords } from '../../core/quantity/index.ts';
import { AppError, fieldError } from '../app-error.ts';
import type { When } from '../when.ts';
import { appendCareEvent } from '../database/care-log.ts';
import type { Batch, Pot, Treatment } from '../database/entities.ts';
import { applyRecords, changeRecords, readRecord, requirePot, touch, type RecordChange } from '../database/records.ts';
import { foldSoakTests, metersOf, requireBegun, requireFits, rowsFor, type SoakLogged } from '../collection/index.ts';
import { settingsNow } from '../collection/index.ts';

type ActOf<K extends DriftAct['kind']> = Extract<DriftAct, { kind: K }>;
type Done = { repeated: boolean };

/** Minutes at which a soak test is read; the last is when it is to end. */
const READ_AT = [10, 30, 60];
/** A pH may sink so far by the pen's own unrest; further down is questioned once. */
const FELL_BY = 0.3;

/**
 * One act in the Drift room, logged and undoable as a whole. The same request again changes nothing.
 * @throws AppError `not-found`, `hold-running`, `invalid-request` with the field, `reading-odd`, `id-reused`
 */
export async function actOnDrift(manager: EntityManager, eventId: string, act: DriftAct, when: When): Promise<Done> {
  const [known] = await manager.query<{ kind: string }[]>('SELECT kind FROM care_event WHERE id = ?', [eventId]);
  if (known) {
    if (KIND_OF[act.kind] === known.kind) return { repeated: true };
    throw new AppError(
      'id-reused',
      'An act with this number is already logged with other contents. Reload the page and do it again.',
    );
  }
  switch (act.kind) {
    case 'startSoak':
      return startSoak(manager, eventId, act, when);
    case 'readSoak':
      return readSoak(manager, eventId, act, when);
    case 'endSoak':
      return endSoak(manager, eventId, act, when);
    case 'startTreatment': {
      const pot = await requirePot(manager, act.potId);
      if (act.fromDate > when.localDate)
        throw fieldError('fromDate', 'That day is still to come. Choose today or earlier.');
      const after = { potId: pot.id, kind: act.treatment, note: act.note, fromDate: act.fromDate, toDate: null };
      const words = `${pot.code}: trying ${TREATMENT_WORDS[act.treatment].toLowerCase()}`;
      return changeRecords(manager, {
        eventId,
        when,
        group: 'Drift',
        words,
        changes: [{ table: 'treatment', id: act.treatmentId, after }],
      });
    }
    case 'endTreatment': {
      const row = (await readRecord(manager, 'treatment', act.treatmentId)) as unknown as Treatment | undefined;
      if (!row) throw new AppError('not-found', 'That is not among what was tried.');
      const pot = await requirePot(manager, row.potId);
      const words = `${pot.code}: ended ${TREATMENT_WORDS[row.kind].toLowerCase()}`;
      return changeRecords(manager, {
        eventId,
        when,
        group: 'Drift',
        words,
        changes: [{ table: 'treatment', id: row.id, after: { toDate: when.localDate } }],
      });
    }
  }
}

const KIND_OF: Record<DriftAct['kind'], string> = {
  startSoak: 'soakStarted',
  readSoak: 'soakRead',
  endSoak: 'soakEnded',
  startTreatment: 'recordsChanged',
  endTreatment: 'recordsChanged',
};

async function startSoak(manager: EntityManager, eventId: string, act: ActOf<'startSoak'>, when: When): Promise<Done> {
  const pot = await requirePot(manager, act.potId);
  const { units } = settingsNow(manager);
  requireFits(pot, act.fillMl, 'fillMl', units);
  const running = soakOf(manager, pot.id, (s) => s.ended === undefined);
  if (running)
    throw new AppError('hold-running', `${pot.code} is in a soak test already: end that one first, or take it back.`);
  const what = await fillWords(manager, act);
  const clocks = [...new Set([...READ_AT.filter((m) => m < act.minutes), act.minutes])].slice(-act.clockIds.length);
  const wanted = act.clockIds.slice(0, clocks.length).map((id, i): RecordChange => ({
    table: 'clock',
    id,
    after: {
      subjectKind: 'pot',
      subjectId: pot.id,
      words: clocks[i] === act.minutes ? 'Soak test: last reading, drain' : `Soak test: read at ${clocks[i]} min`,
      startedAt: when.at.toISOString(),
      endsAt: new Date(when.at.getTime() + clocks[i]! * 60_000).toISOString(),
      origin: 'drift',
      stoppedAt: null,
    },
  }));
  const words = `Soak test: holes taped, filled with ${volumeWords(act.fillMl, units)} of ${what}${act.covered ? ', covered' : ''}`;
  const { soakKind, waterId, fillMl, aged, covered, minutes } = act;
  await appendCareEvent(manager, {
    id: eventId,
    kind: 'soakStarted',
    at: when.at,
    localDate: when.localDate,
    potId: pot.id,
    batchId: soakKind === 'feed' ? act.batchId : null,
    payload: {
      soakKind,
      waterId: soakKind === 'still' ? waterId : null,
      fillMl,
      aged,
      covered,
      minutes,
      words,
      changes: await applyRecords(manager, wanted),
    },
  });
  await touch(manager, eventId, [`pot:${pot.id}`]);
  return { repeated: false };
}

async function fillWords(manager: EntityManager, act: ActOf<'startSoak'>): Promise<string> {
  if (act.soakKind === 'feed') {
    // Its rise can be read all the same.
    if (act.batchId === null) return 'a feed of unknown make';
    const batch = await manager.getRepository<Batch>('batch').findOneBy({ id: act.batchId });
    if (!batch)
      throw fieldError('batchId', 'That mix is not in this collection. Choose another, or a feed of unknown make.');
    if (batch.status !== 'poured')
      throw fieldError('batchId', 'That mix is not finished: bring it to its end at the bench first.');
    return inSentence(batch.name);
  }
  const [water] = await manager.query<{ name: string }[]>('SELECT name FROM water WHERE id = ?', [act.waterId]);
  if (!water) throw fieldError('waterId', 'Choose the water that was poured in.');
  return inSentence(water.name);
}

async function readSoak(manager: EntityManager, eventId: string, act: ActOf<'readSoak'>, when: When): Promise<Done> {
  const { soak, pot } = await requireSoak(manager, act.soakId);
  const meters = metersOf(manager);
  requireBegun(soak.at, when.at);
  const stood = (when.at.getTime() - Date.parse(soak.at)) / 60_000;
  const afterMinutes = act.afterMinutes ?? Math.round(stood);
  const hurried = act.phMeterId !== null && meters.get(act.phMeterId)?.device === 'simulated';
  if (afterMinutes > stood + 2 && !hurried)
    throw fieldError('afterMinutes', `It has stood for ${Math.round(stood)} min so far. Read it when it is time.`);
  const ph = readingMiddle(act.ph);
  if (ph === undefined) throw fieldError('ph', 'Type the pH, such as 6.2: a soak test is read in pH.');
  if (soak.reads.some((r) => r.minutes === afterMinutes && r.opened === act.opened))
    throw fieldError(
      'afterMinutes',
      `It was read at ${afterMinutes} min already. Put that reading right in the Book, or choose another minute.`,
    );
  const before = soak.reads.filter((r) => r.minutes < afterMinutes && !r.opened).at(-1)?.shownPh;
  if (!act.opened && before !== undefined && ph < before - FELL_BY && !act.confirmedOdd)
    throw new AppError(
      'reading-odd',
      `The pH fell from ${before} to ${ph}, and clay does not do that: rinse the pen, check it in a standard, and read again, or keep it once more if it stands.`,
    );
  const { opened, ph: shown, ppm, phMeterId, ppmMeterId } = act;
  const words = `Soak test, ${opened ? 'collected water, stirred and left open' : `after ${afterMinutes} min`}`;
  await appendCareEvent(manager, {
    id: eventId,
    kind: 'soakRead',
    at: when.at,
    localDate: when.localDate,
    potId: pot.id,
    payload: { soakId: soak.id, afterMinutes, opened, ph: shown, ppm, phMeterId, ppmMeterId, words },
  });
  await touch(manager, eventId, [`pot:${pot.id}`]);
  return { repeated: false };
}

async function endSoak(manager: EntityManager, eventId: string, act: ActOf<'endSoak'>, when: When): Promise<Done> {
  const { soak, pot } = await requireSoak(manager, act.soakId);
  if (soak.ended) throw new AppError('not-found', 'That test is over already.');
  if (act.leakedMl !== null && act.leakedMl > soak.started.fillMl)
    throw fieldError('leakedMl', 'More leaked than was poured in? Check the figure.');
  const running: RecordChange[] = [];
  for (const { table, id } of soak.started.changes) {
    if (table !== 'clock') continue;
    const clock = await readRecord(manager, 'clock', id);
    if (clock && clock['stoppedAt'] === null)
      running.push({ table: 'clock', id, after: { stoppedAt: when.at.toISOString() } });
  }
  const { units } = settingsNow(manager);
  const words = `Soak test over, drained${act.leakedMl ? `; ${volumeWords(act.leakedMl, units)} had leaked` : ''}`;
  await appendCareEvent(manager, {
    id: eventId,
    kind: 'soakEnded',
    at: when.at,
    localDate: when.localDate,
    potId: pot.id,
    payload: { soakId: soak.id, leakedMl: act.leakedMl, words, changes: await applyRecords(manager, running) },
  });
  await touch(manager, eventId, [`pot:${pot.id}`]);
  return { repeated: false };
}

async function requireSoak(manager: EntityManager, soakId: string): Promise<{ soak: SoakLogged; pot: Pot }> {
  const [row] = await manager.query<{ potId: string }[]>(
    `SELECT potId FROM care_event WHERE id = ? AND kind = 'soakStarted'`,
    [soakId],
  );
  if (!row) throw new AppError('not-found', 'That soak test is not in the log.');
  const soak = soakOf(manager, row.potId, (s) => s.id === soakId);
  if (!soak) throw new AppError('not-found', 'That soak test was taken back.');
  return { soak, pot: await requirePot(manager, row.potId) };
}

function soakOf(manager: EntityManager, potId: string, wanted: (soak: SoakLogged) => boolean): SoakLogged | undefined {
  const logged = foldSoakTests(
    rowsFor(manager),
    { meters: metersOf(manager), waters: new Map(), batches: new Map(), products: new Map() },
    [potId],
  );
  return logged.get(potId)?.find(wanted);
}
